import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { when } from "../../lib/format";
import { author } from "../../lib/session";
import { useChangeEnrolment, useEnrolments, useSequences } from "../../queries/messages";

type Line = Schemas["EnrolmentResponse"];

/** Who is in a sequence, what each gets next and when, or why it ended. */
export default function Enrolments({ sequence }: { sequence: number }) {
  const query = useEnrolments(sequence);
  const change = useChangeEnrolment();
  const others = (useSequences().data ?? []).filter((item) => item.id !== sequence);
  const act = (number: number, action: string, sequence_id = 0) =>
    change.mutate({ number, action, sequence_id, by: author() });
  if (query.data?.length === 0)
    return <Empty title="Nobody is in it yet">Add businesses from a shortlist.</Empty>;
  return (
    <>
      <ErrorNote error={query.error ?? change.error} />
      <table className="mt-3 w-full bg-sheet">
        <thead className="text-left text-soft">
          <tr className="border-b border-line">
            {["Business", "Written to", "Next", "When", "Why", "Change"].map((head) => (
              <th key={head} scope="col" className="px-2 py-1 font-normal">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {query.data?.map((line) => (
            <tr key={line.id} className="border-b border-faint align-top">
              <td className="px-2 py-1">
                <Link
                  to={`/outreach/inbox?b=${line.business_id}`}
                  className="font-medium text-leaf-dark hover:underline"
                >
                  {line.business}
                </Link>
                <span className="block text-soft">{line.town}</span>
              </td>
              <td className="px-2 py-1">
                {line.person}
                <span className="block text-soft">{line.address}</span>
              </td>
              <td className="px-2 py-1">{line.next || line.state}</td>
              <td className="px-2 py-1 tabular-nums whitespace-nowrap">
                {line.next_at ? when(line.next_at) : "–"}
              </td>
              <td className="px-2 py-1 text-soft">{line.reason}</td>
              <td className="px-2 py-1 text-right whitespace-nowrap">
                <Acts line={line} others={others} act={act} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function Acts({
  line,
  others,
  act,
}: {
  line: Line;
  others: { id: number; name: string }[];
  act: (number: number, action: string, sequence_id?: number) => void;
}) {
  if (line.state !== "active" && line.state !== "paused") return null;
  return (
    <>
      <Button look="quiet" onClick={() => act(line.id, line.state === "paused" ? "resume" : "pause")}>
        {line.state === "paused" ? "Resume" : "Pause"}
      </Button>
      <Button look="quiet" onClick={() => act(line.id, "skip")}>
        Skip
      </Button>
      <Button look="quiet" onClick={() => act(line.id, "stop")}>
        Stop
      </Button>
      {others.length > 0 && (
        <select
          aria-label={`Move ${line.business} to another sequence`}
          value={0}
          onChange={(event) => act(line.id, "move", Number(event.target.value))}
          className="w-20 box"
        >
          <option value={0}>Move to …</option>
          {others.map((other) => (
            <option key={other.id} value={other.id}>
              {other.name}
            </option>
          ))}
        </select>
      )}
    </>
  );
}
