"""A plan: every open call of a recipe answered together, for one paper and one collection."""
