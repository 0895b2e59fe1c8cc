"""Maps from the plane to the plane, and regions under them."""
