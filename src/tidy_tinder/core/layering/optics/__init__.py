"""What wax on a tooth does to light: films, one pencil, the tooth as heights, stacks, and their slopes."""
