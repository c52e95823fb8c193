"""One open format a file: bytes or text in, frozen dataclasses and problems out, and back."""
