"""What can stand in for a colour that is not owned."""
