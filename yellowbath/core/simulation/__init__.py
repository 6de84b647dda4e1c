"""A bath with hidden true values, stepped through time: the stand-in behind an instrument, the
practice bath, and what the estimate is tested on. It shares the laws with the rest of the core and
none of the estimate's code."""
