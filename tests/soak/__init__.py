"""A random artist, for days: whatever is done, the collection stays whole and can be taken back to its beginning."""
