"""The layering table: pencils laid over one another in every order.

May import collection, background and errors.
"""
