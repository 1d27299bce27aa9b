"""Speed, feed, time and load. Sources: geometry; the shop's schools of choosing a step; rules of thumb."""
