"""Stand-ins for outside devices; they ship with the application."""
