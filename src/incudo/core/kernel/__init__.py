"""Rules of kernel: what every room stands on."""
