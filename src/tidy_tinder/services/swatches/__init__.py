"""TODO swatches"""
