"""Plans: built, judged, handed in, approved, compared."""
