"""TODO tidy"""
