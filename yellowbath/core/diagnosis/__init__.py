"""What is wrong with a bath, by name: causes with their chances, and the one thing to ask next."""
