"""The picture that is drawn from: its views, value zones, picks, main colours, sections, and what reaches its range."""
