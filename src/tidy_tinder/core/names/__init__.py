"""What people write, and which colours it means: names, codes, spans, grades."""
