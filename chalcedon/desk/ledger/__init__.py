"""The listing that is the scene: one row a shape, in paint order, edited in place."""
