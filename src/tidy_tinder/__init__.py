"""Tidy Tinder: which of my coloured pencils comes closest, on this paper, and what will be off?"""

__version__ = "1.0.0"
