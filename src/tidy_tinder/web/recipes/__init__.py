"""Routes and schemas of the feature recipes."""
