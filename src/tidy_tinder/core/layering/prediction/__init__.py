"""What fitted pencils look like on a fitted paper, how far off that may be, and why."""
