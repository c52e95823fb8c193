"""Routes and schemas of the feature layering."""
