"""Running the product: its private database, its web server, the demo, the checks' helpers.

Nothing below may import from here.
"""
