"""Rules of people: accounts, roles, class lists, the safety notice."""
