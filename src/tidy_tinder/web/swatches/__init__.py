"""Routes and schemas of the feature swatches."""
