"""One plan beside another: differences in words, and which of them are facts and which design."""
