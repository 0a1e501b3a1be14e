"""What stands over the picture while a sentence is open."""
