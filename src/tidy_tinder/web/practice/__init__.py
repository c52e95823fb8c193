"""Eye practice over HTTP."""
