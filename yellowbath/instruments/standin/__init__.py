"""A supply that ships with Yellow Bath: a SCPI server on a socket, driven by a simulated bath."""
