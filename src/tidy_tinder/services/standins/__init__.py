"""TODO standins"""
