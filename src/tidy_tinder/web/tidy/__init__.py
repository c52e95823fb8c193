"""Routes and schemas of the feature tidy."""
