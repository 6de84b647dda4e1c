"""Where scrap and pieces go: the searches for placing and turning, tanks that fit, dip plans."""
