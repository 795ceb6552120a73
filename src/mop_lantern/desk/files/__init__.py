"""What comes from files and goes to them."""
