"""The shop's cutters and materials: what a row of each register says, and whether it is plausible."""
