"""References and picks."""
