"""Try on scrap: a strip of layers in both orders, what the artist says of it, and how it was measured.

`store` writes, `reading` measures, `view` shows. May import collection, reader, swatches, background, journal, errors.
"""
