"""What the core says of stored variables."""
