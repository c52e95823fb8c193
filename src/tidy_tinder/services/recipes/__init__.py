"""TODO recipes"""
