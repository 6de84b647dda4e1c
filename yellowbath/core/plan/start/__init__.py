"""The first questions: a plan from a few words, everything else assumed and said to be."""
