import { ErrorNote } from "../../components/ErrorNote";
import { useLetterhead } from "../../queries/outreach";
import LetterheadForm from "./LetterheadForm";
import Nav from "./Nav";

/** How the agency shows itself on owners' pages. */
export default function Letterhead() {
  const query = useLetterhead();
  return (
    <div className="flex h-full">
      <Nav title="Letterhead" />
      <section aria-label="Letterhead" className="min-w-0 flex-1 overflow-y-auto px-5 py-4">
        <h1 className="text-lg">Letterhead</h1>
        <p className="text-soft">
          Stands on every owner’s page and PDF, also on those that are shared already.
        </p>
        <ErrorNote error={query.error} />
        {query.data && <LetterheadForm head={query.data} />}
      </section>
    </div>
  );
}
