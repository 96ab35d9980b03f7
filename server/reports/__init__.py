"""Reports: figures, tables of numbers and words in an order, and the files in which they leave."""
