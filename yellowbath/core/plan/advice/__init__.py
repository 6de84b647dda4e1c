"""What would help: changes to a plan, each solved as a whole plan before it is proposed."""
