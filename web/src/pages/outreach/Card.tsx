import type { KeyboardEvent } from "react";
import { dated, day, dayFromNow } from "../../lib/format";
import type { Member } from "../../queries/shortlists";

interface Props {
  member: Member;
  offer: string;
  value: string;
  onDrag: (id: number | null) => void;
  onKeyDown: (event: KeyboardEvent, member: Member) => void;
  onOpen: (id: number) => void;
}

/** A business on the board: what to sell it, whose it is, what was done last, and what is due. */
export default function Card({ member, offer, value, onDrag, onKeyDown, onOpen }: Props) {
  const due = member.follow_up !== "" && member.follow_up <= dayFromNow();
  return (
    <li className="mt-1">
      <button
        type="button"
        data-card={member.id}
        draggable
        onDragStart={() => onDrag(member.id)}
        onDragEnd={() => onDrag(null)}
        onKeyDown={(event) => onKeyDown(event, member)}
        onClick={() => onOpen(member.id)}
        className="block w-full cursor-grab rounded-[3px] border border-line bg-sheet px-2 py-1.5 text-left hover:border-leaf"
      >
        <span className="block font-medium">{member.name}</span>
        <span className="flex justify-between gap-1 text-soft">
          <span className="truncate">{offer || "nothing to offer"}</span>
          <span className="text-ink">{value}</span>
        </span>
        {(member.owner || member.follow_up) && (
          <span className="flex justify-between gap-1 text-xs">
            <span className="truncate">{member.owner}</span>
            {member.follow_up && (
              <span className={due ? "font-semibold text-acorn" : "text-soft"}>{day(member.follow_up)}</span>
            )}
          </span>
        )}
        {member.relationship && <span className="block text-xs text-alarm">{member.relationship}</span>}
        {member.last_text && (
          <span
            className="block truncate text-xs text-soft"
            title={`${day(member.last_at)}${member.last_by && `, ${member.last_by}`}: ${dated(member.last_text)}`}
          >
            {dated(member.last_text)}
          </span>
        )}
      </button>
    </li>
  );
}
