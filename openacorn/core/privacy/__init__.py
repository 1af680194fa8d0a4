"""What identifies a person in texts."""
