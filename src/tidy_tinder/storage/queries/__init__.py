"""Reads of long lists: SQLAlchemy Core, few queries, plain rows."""
