"""The Qt Widgets application."""
