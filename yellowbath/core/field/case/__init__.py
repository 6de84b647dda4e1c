"""Field cases from files, for ``yellowbath field``: read, solved, reported."""
