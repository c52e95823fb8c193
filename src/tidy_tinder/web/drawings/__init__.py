"""Drawings."""
