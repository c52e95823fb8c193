"""Scripts that derive every constant and the demo data."""
