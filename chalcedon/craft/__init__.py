"""Changes of a scene that need its outlines or places, measuring it, and the check-up."""
