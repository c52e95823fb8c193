"""Routes and schemas of the feature exchange."""
