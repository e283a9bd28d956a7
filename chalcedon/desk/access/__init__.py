"""What assistive technology is told of the parts of the window that are painted by hand."""
