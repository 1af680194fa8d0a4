import { useState } from "react";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { when } from "../../lib/format";
import { useActivityLog } from "../../queries/team";
import Nav from "../agency/Nav";

/** Who did what, the last first. */
export default function ActivityLog() {
  const [author, setAuthor] = useState("");
  const [what, setWhat] = useState("");
  const log = useActivityLog(author, what);
  const pages = log.data?.pages ?? [];
  const lines = pages.flatMap((page) => page.activities);
  const authors = pages[0]?.authors ?? [];
  const asked = new URLSearchParams({ author, what });
  return (
    <div className="flex h-full">
      <Nav title="Activity log" />
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard */}
      <section aria-label="Activity log" tabIndex={0} className="min-w-0 flex-1 overflow-y-auto px-6 py-4">
        <h1 className="text-lg">Activity log</h1>
        <div className="mt-2 flex items-center gap-3">
          <label>
            Who{" "}
            <select value={author} onChange={(event) => setAuthor(event.target.value)} className="box">
              <option value="">everybody</option>
              {authors.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </select>
          </label>
          <label>
            What holds{" "}
            <input
              value={what}
              placeholder="export"
              onChange={(event) => setWhat(event.target.value)}
              className="w-40 box"
            />
          </label>
          <a href={`/api/activity-log.csv?${asked}`} className="ml-auto text-leaf-dark underline">
            Export as CSV
          </a>
        </div>
        <ErrorNote error={log.error} />
        {log.isSuccess && lines.length === 0 && (
          <Empty title="Nothing yet">What people change from now on is listed here.</Empty>
        )}
        <table className="mt-3 w-full max-w-4xl">
          <tbody>
            {lines.map((line) => (
              <tr key={line.id} className="border-t border-line">
                <td className="w-40 py-1 pr-3 whitespace-nowrap text-soft">{when(line.at)}</td>
                <td className="py-1 pr-3 font-medium whitespace-nowrap">{line.author}</td>
                <td className="py-1 pr-3">{line.what}</td>
                <td className="py-1 text-soft">
                  {line.subject}
                  {line.by_token && ` · by token ${line.by_token}`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {log.hasNextPage && (
          <Button className="mt-2" onClick={() => log.fetchNextPage()} disabled={log.isFetchingNextPage}>
            Show earlier
          </Button>
        )}
      </section>
    </div>
  );
}
