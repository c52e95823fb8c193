"""The printed sheet and the frame: where everything on them stands, in mm."""
