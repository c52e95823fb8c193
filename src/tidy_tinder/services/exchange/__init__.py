"""TODO exchange"""
