"""Coming in: accounts made by a form, by an invitation or through an institution, and what is there at a first look."""
