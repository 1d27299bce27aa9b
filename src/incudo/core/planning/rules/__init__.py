"""What can be wrong with a plan: one module per subject, one small function per rule."""
