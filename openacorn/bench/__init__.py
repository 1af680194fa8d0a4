BENCHES: dict = {}
