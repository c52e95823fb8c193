"""TODO predicting"""
