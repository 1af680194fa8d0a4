import { useState } from "react";
import { Link } from "react-router";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { Phone } from "../../components/Phone";
import ResultButtons, { useResults } from "../../components/Results";
import UndoNote, { useActionLog } from "../../components/UndoNote";
import { ASKED_STAGES } from "../../lib/results";
import { author } from "../../lib/session";
import { useCurrency, useServices } from "../../queries/catalogue";
import { useColleagues } from "../../queries/sharing";
import { type Member, useAddActivity, useMove } from "../../queries/shortlists";
import Appointments from "./Appointments";
import History from "./History";

interface Props {
  shortlist: number;
  member: Member;
  stages: string[];
  onClose: () => void;
}

/** One business of a list being worked: stage, owner, day to come back, and everything done about it so far. */
export default function Work({ shortlist, member, stages, onClose }: Props) {
  const move = useMove(shortlist);
  const add = useAddActivity(member.id);
  const [text, setText] = useState("");
  const actions = useActionLog();
  const services = useServices().data ?? [];
  const currency = useCurrency();
  const colleagues = useColleagues().data ?? [];
  const results = useResults(member.id, "", text, (action) => {
    setText("");
    actions.note(action, null);
  });
  const set = (what: { stage?: string; owner?: string; follow_up?: string }) =>
    move.mutate({ ids: [member.id], by: author(), ...(what as object) });
  return (
    <aside
      aria-label="Selected business"
      className="w-[320px] shrink-0 overflow-y-auto border-l border-line bg-sheet px-4 py-3"
    >
      <div className="flex items-start gap-2">
        <h2 className="min-w-0 flex-1 text-[15px]">{member.name}</h2>
        <Button look="quiet" onClick={onClose}>
          Close
        </Button>
      </div>
      <p className="text-soft">
        {member.town} · <Phone number={member.phone} />
      </p>
      <p className="flex flex-wrap gap-x-3">
        {[
          [`/businesses/${member.id}?shortlist=${shortlist}`, "Everything about it"],
          [`/outreach/call?shortlist=${shortlist}&b=${member.id}`, "Call sheet"],
          [`/outreach/page/${member.id}?shortlist=${shortlist}`, "Owner’s page"],
          [`/businesses/${member.id}/website`, "New website"],
          [`/businesses/${member.id}/proposals`, "Proposals"],
        ].map(([to, words]) => (
          <Link key={words} to={to ?? ""} className="text-leaf-dark hover:underline">
            {words}
          </Link>
        ))}
      </p>
      {member.relationship && <p className="mt-1 text-alarm">Marked as {member.relationship}</p>}
      <div className="mt-3 grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1.5">
        <label htmlFor="stage">Stage</label>
        <select
          id="stage"
          value={member.stage}
          onChange={(event) => set({ stage: event.target.value })}
          className="box"
        >
          {stages.map((stage) => (
            <option key={stage} disabled={ASKED_STAGES.has(stage) && stage !== member.stage}>
              {stage}
            </option>
          ))}
        </select>
        <label htmlFor="owner">Whose</label>
        <input
          id="owner"
          key={`owner${member.id}${member.owner}`}
          defaultValue={member.owner}
          placeholder="a name"
          list="colleagues"
          onBlur={(event) => event.target.value !== member.owner && set({ owner: event.target.value })}
          onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
          className="box"
        />
        <datalist id="colleagues">
          {colleagues.map((one) => (
            <option key={one.id} value={one.name} />
          ))}
        </datalist>
        <label htmlFor="follow-up">Follow up</label>
        <input
          id="follow-up"
          type="date"
          value={member.follow_up}
          onChange={(event) => set({ follow_up: event.target.value })}
          className="box"
        />
      </div>
      <form
        className="mt-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (text.trim()) add.mutate({ text, by: author() }, { onSuccess: () => setText("") });
        }}
      >
        <textarea
          value={text}
          rows={2}
          onChange={(event) => setText(event.target.value)}
          placeholder="Add a note"
          aria-label="Add a note"
          className={`w-full box`}
        />
        <Button type="submit" disabled={!text.trim() || add.isPending}>
          Note it
        </Button>
      </form>
      <ErrorNote error={move.error ?? add.error} />
      <h3 className="mt-3 mb-1.5 border-b border-line pb-0.5">Log result</h3>
      <ResultButtons results={results} services={services} service={member.offer} currency={currency} />
      <Appointments business={member.id} />
      <History business={member.id} />
      <UndoNote actions={actions} />
    </aside>
  );
}
