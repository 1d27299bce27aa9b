"""Use cases of cutting: the run card at the machine."""
