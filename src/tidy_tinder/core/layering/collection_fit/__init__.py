"""A whole collection fitted: papers from anchors, charts, strips, and what to swatch next."""
