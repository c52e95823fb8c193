"""TODO layering"""
