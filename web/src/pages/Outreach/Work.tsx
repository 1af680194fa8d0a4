import { useState } from "react";
import { Link } from "react-router";
import { BOX, Button, ErrorNote } from "../../components/Bits";
import { phone, when } from "../../lib/format";
import { type Member, useAddStep, useMove, useSteps } from "../../queries/shortlists";
import { me } from "./me";

interface Props {
  shortlist: number;
  member: Member;
  stages: string[];
  onClose: () => void;
}

/** One business of a list being worked: stage, owner, day to come back, and everything done about it so far. */
export default function Work({ shortlist, member, stages, onClose }: Props) {
  const steps = useSteps(member.id);
  const move = useMove(shortlist);
  const add = useAddStep(member.id);
  const [text, setText] = useState("");
  const set = (what: { stage?: string; owner?: string; follow_up?: string }) =>
    move.mutate({ ids: [member.id], by: me(), ...(what as object) });
  return (
    <aside
      aria-label="The chosen business"
      className="w-[320px] shrink-0 overflow-y-auto border-l border-line bg-sheet px-4 py-3"
    >
      <div className="flex items-start gap-2">
        <h2 className="min-w-0 flex-1 text-[15px]">{member.name}</h2>
        <Button look="quiet" onClick={onClose}>
          Close
        </Button>
      </div>
      <p className="text-soft">
        {member.town} · {phone(member.phone)}
      </p>
      <Link to={`/businesses/${member.id}?shortlist=${shortlist}`} className="text-leaf-dark hover:underline">
        Everything about it
      </Link>
      {member.standing && <p className="mt-1 text-alarm">Standing: {member.standing}</p>}
      <div className="mt-3 grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1.5">
        <label htmlFor="stage">Stage</label>
        <select
          id="stage"
          value={member.stage}
          onChange={(event) => set({ stage: event.target.value })}
          className={BOX}
        >
          {stages.map((stage) => (
            <option key={stage}>{stage}</option>
          ))}
        </select>
        <label htmlFor="owner">Whose</label>
        <input
          id="owner"
          key={`owner${member.id}${member.owner}`}
          defaultValue={member.owner}
          placeholder="a name"
          onBlur={(event) => event.target.value !== member.owner && set({ owner: event.target.value })}
          onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
          className={BOX}
        />
        <label htmlFor="follow-up">Follow up</label>
        <input
          id="follow-up"
          type="date"
          value={member.follow_up}
          onChange={(event) => set({ follow_up: event.target.value })}
          className={BOX}
        />
      </div>
      <form
        className="mt-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (text.trim()) add.mutate({ text, by: me() }, { onSuccess: () => setText("") });
        }}
      >
        <textarea
          value={text}
          rows={2}
          onChange={(event) => setText(event.target.value)}
          placeholder="What was done or said"
          aria-label="What was done or said"
          className={`w-full ${BOX}`}
        />
        <Button type="submit" disabled={!text.trim() || add.isPending}>
          Note it
        </Button>
      </form>
      <ErrorNote error={move.error ?? add.error ?? steps.error} />
      <h3 className="mt-3 border-b border-line pb-0.5">What was done</h3>
      <ul aria-label="What was done">
        {steps.data?.map((step) => (
          <li key={step.id} className="border-b border-faint py-1">
            {step.text}
            <span className="block text-xs text-soft">
              {when(step.at)}
              {step.by && `, ${step.by}`}
            </span>
          </li>
        ))}
        {steps.data?.length === 0 && <li className="py-1 text-soft">Nothing yet.</li>}
      </ul>
    </aside>
  );
}
