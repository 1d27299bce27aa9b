"""The demo shop: everybody and everything in it is invented."""

#: Changes when the demo data change, so that an older demo is started over.
DATA = 13
