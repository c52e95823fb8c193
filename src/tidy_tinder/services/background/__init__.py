"""TODO background"""
