"""Fade tests over HTTP."""
