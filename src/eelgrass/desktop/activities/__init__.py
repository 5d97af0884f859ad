"""Ways of working with an exercise: solving, making, saying first, walking a route. No widgets here."""
