"""Routes and schemas of the feature papers."""
