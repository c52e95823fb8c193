"""Phones: let in, shown, sent away."""
