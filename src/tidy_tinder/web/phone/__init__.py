"""What a paired phone gets: a page of its own on an address of its own, and nothing else of the program."""
