"""Pencils fitted to their own marks: the evidence, the solver, the fit."""
