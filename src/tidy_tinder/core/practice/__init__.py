"""Eye practice: what is asked of one's own colours, how hard, how sharp the eye is by it, and where it is biased."""
