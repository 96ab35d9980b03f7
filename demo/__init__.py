"""The demo study "Ellery Sound": everything in it is made up."""
