"""Routes and schemas of the feature scraps."""
