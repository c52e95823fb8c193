"""The heart: pure functions on numbers and frozen dataclasses (see README.md beside this file)."""
