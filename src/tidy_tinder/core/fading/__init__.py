"""How far light has changed a mark, which class of lightfastness that is, and what a reading cannot tell."""
