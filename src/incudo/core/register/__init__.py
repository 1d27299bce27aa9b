"""Rules of register: the chain of what is signed."""
