"""What other programs are notified of: which events there are, how a delivery is signed, when it is tried again."""
