"""What people say of single clips of a roll."""
