import { useState } from "react";
import type { Trade } from "../../api/client";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { marks } from "../../lib/marks";
import { useAddTrade, useDropTrade } from "../../queries/catalogue";

interface Props {
  trades: Trade[];
  /** What was searched for in vain: the likely name of the trade to add. */
  named: string;
  onAdded: (id: string) => void;
}

/** Trades of the user's own: a name, other words for it, and the wider trade whose map tags and codes it takes. */
export default function OwnTrades({ trades, named, onAdded }: Props) {
  const [label, setLabel] = useState("");
  const [words, setWords] = useState("");
  const [wider, setWider] = useState("");
  const add = useAddTrade();
  const drop = useDropTrade();
  const own = trades.filter((trade) => trade.own);
  const parent = trades.find(
    (trade) => trade.label.toLowerCase() === wider.trim().toLowerCase() && !trade.own,
  );
  const name = label || named;
  return (
    <details className="mt-1">
      <summary className="cursor-pointer text-leaf-dark">
        Add a trade of your own{own.length > 0 && ` (${own.length})`}
      </summary>
      <div className="mt-1 grid gap-1">
        <input
          value={name}
          aria-label="Name of the trade"
          {...marks(add.error, "label")}
          placeholder="Name (singular): Sailmaker"
          maxLength={60}
          onChange={(event) => setLabel(event.target.value)}
          className="box"
        />
        <input
          value={words}
          aria-label="Other words for the trade"
          {...marks(add.error, "words")}
          placeholder="Other words for it, separated by commas"
          onChange={(event) => setWords(event.target.value)}
          className="box"
        />
        <input
          value={wider}
          list="wider-trades"
          aria-label="Wider trade"
          {...marks(add.error, "parent", "trades")}
          placeholder="Broader trade, if any: its map tags are used"
          onChange={(event) => setWider(event.target.value)}
          className="box"
        />
        <datalist id="wider-trades">
          {trades
            .filter((trade) => !trade.own)
            .map((trade) => (
              <option key={trade.id} value={trade.label} />
            ))}
        </datalist>
        {wider && !parent && (
          <p className="text-acorn">No trade is called “{wider}”; pick one of the list.</p>
        )}
        <p>
          <Button
            disabled={!name.trim() || (wider !== "" && !parent) || add.isPending}
            onClick={() =>
              add.mutate(
                { label: name, plural: "", words: words.split(","), parent: parent?.id ?? "" },
                {
                  onSuccess: (made) => {
                    setLabel("");
                    setWords("");
                    setWider("");
                    onAdded(made.id);
                  },
                },
              )
            }
          >
            Add it
          </Button>
        </p>
        <ErrorNote error={add.error ?? drop.error} />
        {own.map((trade) => (
          <p key={trade.id} className="flex justify-between gap-2">
            <span className="min-w-0 truncate">
              {trade.label} <span className="text-soft">{trade.words.join(", ")}</span>
            </span>
            <Button look="quiet" onClick={() => drop.mutate(trade.id)}>
              Delete
            </Button>
          </p>
        ))}
      </div>
    </details>
  );
}
