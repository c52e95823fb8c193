"""Fade tests: strips in the light, their readings day by day, and what they have shown of each colour.

May import collection, background, photos, sheets, reader, journal and errors.
"""
