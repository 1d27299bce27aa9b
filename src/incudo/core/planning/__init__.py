"""Planning: from a drawing to the order of work, and what would go wrong with it."""
