"""Use cases of kernel: what every room stands on."""
