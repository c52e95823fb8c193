"""Eye practice: rounds of questions on one's own colours, what they tell of the eye, a card to practise on paper.

May import collection, background, journal and errors.
"""
