"""Attacks on the project: bounded, seeded, with a report. `make fuzz`; a small share of it is in the tests."""
