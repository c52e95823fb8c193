"""Measured marks as files: CSV, CGATS.17 and CxF3, written and read; one table of fields for all of them."""
