"""One solver for all tests of a process, so that its kernels are loaded once."""

from yellowbath.workflows.solver import Solver

SOLVER = Solver()
