"""What walls do to the temperature: one file a kind. A wall without one lets no heat through."""
