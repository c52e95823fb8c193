"""From reflectance to what the eye and the screen get."""
