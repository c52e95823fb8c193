"""How sure marks are: fitting, explanations, what to swatch first on a paper."""
