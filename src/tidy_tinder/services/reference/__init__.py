"""Station 3: pictures kept and opened, looked at, colours picked and found in them, and what of hers reaches these.

May import drawings, standins, collection, background, journal and errors.
"""
