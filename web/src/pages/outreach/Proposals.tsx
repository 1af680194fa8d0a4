import { useState } from "react";
import { Link, useParams } from "react-router";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { day, money, when } from "../../lib/format";
import { author } from "../../lib/session";
import { useTitle } from "../../lib/useTitle";
import { type Proposal, useProposals, useShareProposal } from "../../queries/proposals";
import ProposalForm from "./ProposalForm";

/** Proposals to a business: written, shared, accepted by its owner. */
export default function Proposals() {
  const id = Number(useParams().id ?? 0);
  const query = useProposals(id);
  const [open, setOpen] = useState<number | null>(null);
  const found = query.data;
  useTitle(found ? `Proposals to ${found.name}` : "Proposals");
  const shown = found?.proposals.find((item) => item.id === open) ?? found?.proposals[0];
  return (
    <div className="flex h-full">
      <aside
        aria-label="Proposals"
        className="w-[400px] shrink-0 overflow-y-auto border-r border-line bg-sheet px-5 py-4"
      >
        <div className="flex items-center gap-2">
          <h1 className="min-w-0 flex-1 text-lg">
            Proposals to{" "}
            <Link className="hover:underline" to={`/businesses/${id}`}>
              {found?.name}
            </Link>
          </h1>
          <Button look="main" onClick={() => setOpen(0)}>
            New
          </Button>
        </div>
        <ErrorNote error={query.error} />
        {found && (open === 0 || found.proposals.length === 0) && (
          <ProposalForm business={id} choices={found} onDone={() => setOpen(null)} />
        )}
        <ul>
          {found?.proposals.map((item) => (
            <li key={item.id} className="border-b border-line py-2">
              <Line item={item} chosen={item.id === shown?.id} onChoose={() => setOpen(item.id)} />
              {open === -item.id && (
                <ProposalForm business={id} choices={found} before={item} onDone={() => setOpen(item.id)} />
              )}
              {!item.shared_at && open !== -item.id && (
                <Button look="quiet" onClick={() => setOpen(-item.id)}>
                  Edit
                </Button>
              )}
            </li>
          ))}
        </ul>
      </aside>
      {shown && (
        <iframe
          key={`${shown.id}${shown.made_at}${shown.accepted_at}${JSON.stringify(shown.items)}`}
          title="The proposal as its owner sees it"
          src={`/api/proposals/${shown.id}/preview`}
          className="h-full min-w-0 flex-1 bg-white"
        />
      )}
    </div>
  );
}

const state = (item: Proposal): string => {
  if (item.accepted_at)
    return `accepted by ${item.accepted_by}, ${when(item.accepted_at)}${item.accepted_from ? `, from ${item.accepted_from}` : ""}`;
  if (item.withdrawn_at) return `withdrawn ${when(item.withdrawn_at)}`;
  if (item.over) return `expired on ${day(item.valid_until)}`;
  return item.shared_at ? `shared ${when(item.shared_at)}` : "not shared yet";
};

function Line({ item, chosen, onChoose }: { item: Proposal; chosen: boolean; onChoose: () => void }) {
  const share = useShareProposal();
  const [copied, setCopied] = useState(false);
  const live = item.shared_at && !item.withdrawn_at && !item.accepted_at;
  const once = Number(item.once.gross);
  const monthly = Number(item.monthly.gross);
  return (
    <>
      <button
        type="button"
        onClick={onChoose}
        aria-pressed={chosen}
        className={`block w-full text-left ${chosen ? "font-semibold" : ""}`}
      >
        {item.number}: {once > 0 && money(once, item.currency, true)}
        {once > 0 && monthly > 0 && " and "}
        {monthly > 0 && `${money(monthly, item.currency, true)} a month`}
      </button>
      <p className={item.accepted_at ? "text-leaf-dark" : "text-soft"}>
        {state(item)}
        {!item.accepted_at && !item.over && !item.withdrawn_at && `, valid until ${day(item.valid_until)}`}
      </p>
      {live && !item.public && <p className="text-soft">This address opens on this machine alone.</p>}
      {live && <p className="mt-1 border border-line bg-white px-2 py-1 text-xs break-all">{item.address}</p>}
      <p className="mt-1 flex flex-wrap items-center gap-2">
        {!item.shared_at && !item.over && (
          <Button onClick={() => share.mutate({ number: item.id, open: true, by: author() })}>
            Share it
          </Button>
        )}
        {live && (
          <>
            <Button onClick={() => navigator.clipboard.writeText(item.address).then(() => setCopied(true))}>
              {copied ? "Copied" : "Copy the address"}
            </Button>
            <Button look="quiet" onClick={() => share.mutate({ number: item.id, open: false, by: author() })}>
              Withdraw
            </Button>
          </>
        )}
        <a
          className="text-leaf-dark hover:underline"
          href={`/api/proposals/${item.id}/proposal.pdf`}
          download
        >
          PDF
        </a>
        <a className="text-leaf-dark hover:underline" href={`/api/proposals/${item.id}/invoice.pdf`} download>
          Invoice draft
        </a>
      </p>
      <ErrorNote error={share.error} />
    </>
  );
}
