"""The database as a file: looked over, copied while it is in use, restore."""
