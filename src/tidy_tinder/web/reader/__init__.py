"""Routes and schemas of the feature reader."""
