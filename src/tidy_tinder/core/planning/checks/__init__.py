"""What will not work in a recipe: rules of the trade, each with what it saw, why that matters and what to do."""
