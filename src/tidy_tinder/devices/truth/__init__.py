"""The hidden truth of the demo: a simulator of pencil on paper, with other physics than the model.

Only the simulated devices, the scripts that derive demo data and the tests may read it. It is final from
the first slice on: changing it would change what every demo swatch says. What is simulated, and in what it
differs on purpose from the model of the application, stands in docs/decisions/0004-the-hidden-truth.md.
"""
