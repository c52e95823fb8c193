"""What to buy, what to do without, what to pack, and how long a pencil lasts."""
