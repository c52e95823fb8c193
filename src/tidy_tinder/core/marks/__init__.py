"""How a mark is shown: the grain of the tooth and the film colour that give its mean Lab."""
