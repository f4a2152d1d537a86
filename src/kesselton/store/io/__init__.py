"""Reading and writing files safely."""
