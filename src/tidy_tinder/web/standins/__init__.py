"""Routes and schemas of the feature standins."""
