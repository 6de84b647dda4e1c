"""Paper and files to take away: the bench card, the band round the tank, drawings, meshes."""
