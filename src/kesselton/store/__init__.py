"""Files: the workshop, and exchange in open formats. No interface code."""
