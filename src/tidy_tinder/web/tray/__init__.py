"""Routes and schemas of the feature tray."""
