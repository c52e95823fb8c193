"""The commands, one idea a file; `cli.py` loads the one that is called."""
