"""One user intention a function; each takes a session factory and owns its transaction."""
