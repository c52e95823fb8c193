"""Station 1: what is owned and charted: shelves, ownership, sticks and their places, charts, a colour's page.

`pencils` is the one writer of pencils. May import collection, swatches, standins, background, journal and errors.
"""
