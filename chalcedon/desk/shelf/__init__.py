"""The shelf: scenes of chosen folders as pictures, to be found and opened."""
