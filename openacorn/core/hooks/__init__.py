"""What other programs are told: which events there are, how a delivery is signed, when it is tried again."""
