"""What several features send and get: parameters, what is drawn, stand-ins, changes."""
