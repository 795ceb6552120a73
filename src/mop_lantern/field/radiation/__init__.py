"""Heat that surfaces radiate to each other: what they see, what they exchange, and the walls between."""
