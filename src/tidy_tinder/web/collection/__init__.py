"""Routes and schemas of the feature collection."""
