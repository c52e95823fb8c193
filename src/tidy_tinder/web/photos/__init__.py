"""Photos of printed sheets."""
