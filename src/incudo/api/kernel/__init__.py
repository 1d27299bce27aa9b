"""HTTP for kernel: what every room stands on."""
