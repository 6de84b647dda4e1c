"""The web interface to the workflows: routes parse, call one workflow, answer."""
