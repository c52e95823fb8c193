"""A photo of the drawing laid on its reference: where the drawing should still go darker or lighter.

One idea a file: corners, light, laying on, zones, curve, confidence; `check` puts them together.
"""
