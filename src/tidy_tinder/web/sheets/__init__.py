"""Sheets and frames to print."""
