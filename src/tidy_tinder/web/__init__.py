"""The web interface: a route parses, calls one service, and returns a schema."""
