"""Choosing a paint."""
