"""TODO collection"""
