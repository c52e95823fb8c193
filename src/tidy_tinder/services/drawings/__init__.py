"""What is worked on: drawings begun, described, chosen, copied, put away, removed; the page of all of them.

May import collection, background, journal and errors.
"""
