"""Sheets and frames to print: which pencils go on them, the pages, and what was printed.

`plan` chooses, `store` writes, `view` shows. May import collection, predicting, background, journal, errors.
"""
