"""TODO scraps"""
