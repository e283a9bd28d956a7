"""What commands do to the selection, to the scene as a whole and to files."""
