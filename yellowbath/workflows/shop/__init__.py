"""What every workflow stands on: the shop, its clock, its solver, and what is sent twice."""
