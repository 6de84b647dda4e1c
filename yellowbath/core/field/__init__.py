"""Where the current goes. One interface, :class:`FieldModel`, so that the model can be replaced."""
