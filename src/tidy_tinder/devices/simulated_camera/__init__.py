"""A camera and a scanner that photograph a printed page, coloured in from the hidden world of the demo.

It shares nothing with what reads a photo but where things stand on a page (docs/simulated-camera.md).
"""
