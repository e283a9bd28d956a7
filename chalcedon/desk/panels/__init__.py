"""The parts of the window around the ledger and the canvas, and what opens over them."""
