"""What writes data that ships: not part of the product."""
