"""The general-purpose record-linkage library on the same listings: its own comparisons, blocking rules and EM."""

import logging
import warnings
from collections.abc import Sequence
from typing import Any

from openacorn.core.match.normalise import ListingRecord

GUESSED_RECALL = 0.7
SAMPLED_PAIRS = 2_000_000


def splink_clusters(records: Sequence[ListingRecord], cuts: Sequence[float]) -> dict[float, list[list[int]]]:
    """Cluster `records` (normalised as for our own matcher) with Splink on DuckDB; return cut → keys of each cluster."""
    import pandas as pd
    import splink.comparison_library as compared
    from splink import Linker, SettingsCreator, block_on
    from splink.backends.duckdb import DuckDBAPI

    logging.getLogger("splink").setLevel(logging.ERROR)
    warnings.simplefilter("ignore")
    frame = pd.DataFrame(
        {
            "unique_id": [r.key for r in records],
            "name": [r.full or None for r in records], "core": [r.core or None for r in records],
            "phone": [r.phone or None for r in records], "site": [r.domain or r.page or None for r in records],
            "street": [f"{r.number} {r.street}".strip() or None for r in records],
            "place": [r.postcode or r.town or None for r in records], "category": [r.category or None for r in records],
            "lat": [None if r.lat != r.lat else r.lat for r in records],
            "lon": [None if r.lon != r.lon else r.lon for r in records],
        }
    )  # fmt: skip
    settings = SettingsCreator(
        link_type="dedupe_only",
        comparisons=[
            compared.JaroWinklerAtThresholds("name", [0.95, 0.88, 0.7]).configure(term_frequency_adjustments=True),
            compared.ExactMatch("phone"), compared.ExactMatch("site"), compared.LevenshteinAtThresholds("street", [1, 3]),
            compared.DistanceInKMAtThresholds("lat", "lon", [0.08, 0.4, 3]), compared.ExactMatch("category"),
        ],
        blocking_rules_to_generate_predictions=[
            block_on("phone"), block_on("site"), block_on("place", "substr(core, 1, 4)"), block_on("place", "street"),
        ],
    )  # fmt: skip
    api = DuckDBAPI()
    linker: Any = Linker(api.register(frame), settings)
    sure = [block_on("phone", "name"), block_on("site", "street")]
    linker.training.estimate_probability_two_random_records_match(sure, recall=GUESSED_RECALL)
    linker.training.estimate_u_using_random_sampling(max_pairs=SAMPLED_PAIRS)
    linker.training.estimate_parameters_using_expectation_maximisation(block_on("phone"))
    linker.training.estimate_parameters_using_expectation_maximisation(block_on("place", "substr(core, 1, 4)"))
    predicted = linker.inference.predict(threshold_match_probability=min(cuts))
    found = {}
    for cut in cuts:
        frame = linker.clustering.cluster_pairwise_predictions_at_threshold(predicted, cut).as_pandas_dataframe()
        found[cut] = [list(keys) for keys in frame.groupby("cluster_id")["unique_id"].apply(list)]
    return found
