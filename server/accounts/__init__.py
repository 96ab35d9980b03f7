"""Who works here."""
