"""Stand-ins for devices at the machines. They know Incudo by its HTTP interface alone."""
