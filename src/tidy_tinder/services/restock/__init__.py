"""Station 6: what to buy and why, what to do without and pack, prices and the list, how long pencils last.

May import collection, background, reference, standins, tidy, journal and errors.
"""
