"""What a reading is worth: opacity from two grounds, averages, and whether a reading can be right."""
