"""What makes the generated parts of the documentation."""
