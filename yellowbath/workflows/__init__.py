"""One plain function for each thing a person does; the API and the command line call the same."""
