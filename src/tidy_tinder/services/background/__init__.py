"""What one open collection keeps and works out beside its requests, owned by its `Collection` in runtime.py.

Cache, fits, pairs mixed in the background. May import journal and errors of the services, and what lies below them.
"""
