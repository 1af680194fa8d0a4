import { Link } from "react-router";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { count, when } from "../../lib/format";
import { useOwnerPages } from "../../queries/outreach";
import Nav from "./Nav";

const HEADS = ["Business", "Town", "Made", "Shared", "Opened", "Replies"];

/** Every page that was made for an owner. */
export default function OwnersPages() {
  const query = useOwnerPages();
  const pages = query.data?.pages ?? [];
  return (
    <div className="flex h-full">
      <Nav title="Owners’ pages" />
      <section aria-label="Owners’ pages" className="min-w-0 flex-1 overflow-y-auto px-5 py-4">
        <h1 className="text-lg">Owners’ pages</h1>
        <ErrorNote error={query.error} />
        {query.data && pages.length === 0 && (
          <Empty title="No page was made yet">
            Open a business on a shortlist and choose “Owner’s page”, or make those of a whole list.
          </Empty>
        )}
        {pages.length > 0 && (
          <table className="mt-3 w-full bg-sheet">
            <thead className="text-left text-soft">
              <tr className="border-b border-line">
                {HEADS.map((head) => (
                  <th
                    key={head}
                    scope="col"
                    className={`px-2 py-1 font-normal ${head === "Opened" || head === "Replies" ? "text-right" : ""}`}
                  >
                    {head}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {pages.map((page) => (
                <tr key={page.id} className="border-b border-faint">
                  <td className="px-2 py-1">
                    <Link className="font-medium hover:underline" to={`/outreach/page/${page.business_id}`}>
                      {page.name}
                    </Link>
                  </td>
                  <td className="px-2 py-1">{page.town}</td>
                  <td className="px-2 py-1 whitespace-nowrap">{when(page.made_at)}</td>
                  <td className="px-2 py-1 whitespace-nowrap">
                    {page.withdrawn_at ? (
                      <span className="text-soft">withdrawn {when(page.withdrawn_at)}</span>
                    ) : page.shared_at ? (
                      <>
                        {when(page.shared_at)}
                        {page.newer && <span className="text-acorn"> · created again since</span>}
                      </>
                    ) : (
                      <span className="text-soft">not yet</span>
                    )}
                  </td>
                  <td className="px-2 py-1 text-right">{count(page.views)}</td>
                  <td className="px-2 py-1 text-right">{count(page.replies)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {query.data && query.data.total > pages.length && (
          <p className="mt-2 text-soft">
            The newest {count(pages.length)} of {count(query.data.total)} are shown.
          </p>
        )}
      </section>
    </div>
  );
}
