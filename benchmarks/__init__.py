"""What performance claims rest on: `./run bench [NAME…]`."""
