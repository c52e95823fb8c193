"""How far apart two colours are, in what direction, and in which words."""
