import type { ReactNode } from "react";
import { Link } from "react-router";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { Phone } from "../../components/Phone";
import { count, day, hour, when } from "../../lib/format";
import { author } from "../../lib/session";
import { useServices } from "../../queries/catalogue";
import { useMyDay } from "../../queries/sharing";
import { useMe } from "../../queries/team";
import Nav from "./Nav";

const ROW = "flex gap-3 border-b border-faint py-1";
const NAME = "w-64 shrink-0 truncate font-medium hover:underline";
const PHONE = "w-36 shrink-0 truncate";
const WHEN = "w-32 shrink-0 truncate text-soft";

/** What waits for whoever is signed in: due, agreed, answered, new. */
export default function MyDay() {
  const signedIn = useMe().data?.name;
  const name = signedIn || author();
  const query = useMyDay(name);
  const services = useServices().data ?? [];
  const found = query.data;
  const answers = found ? [...found.answers, ...found.page_replies] : [];
  const nothing =
    found && found.due.length + found.appointments.length + answers.length + found.new.length === 0;
  return (
    <div className="flex h-full">
      <Nav title="My day" />
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard */}
      <section aria-label="My day" tabIndex={0} className="min-w-0 flex-1 overflow-y-auto px-5 py-4">
        <h1 className="text-lg">{name ? `${name}’s day` : "My day"}</h1>
        <ErrorNote error={query.error} />
        {!name && <p>Enter your name at the bottom left, and your day appears here.</p>}
        {name && nothing && (
          <Empty title="Nothing waits for you">
            Businesses that are given to you, answers and calls that are due appear here.
          </Empty>
        )}
        {found && (
          <div className="max-w-4xl">
            <Part title="Appointments today" count={found.appointments.length}>
              {found.appointments.map((one) => (
                <li key={one.id} className={ROW}>
                  <Link to={`/businesses/${one.business_id}`} className={NAME}>
                    {one.business}
                  </Link>
                  <span className={PHONE}>
                    <Phone number={one.phone} />
                  </span>
                  <span className={WHEN}>{hour(one.at)}</span>
                  <span className="min-w-0 flex-1 truncate">{one.place || one.note}</span>
                </li>
              ))}
            </Part>
            <Part title="Answers" count={answers.length}>
              {answers.map((one) => (
                <li key={`${one.id} ${one.at}`} className={ROW}>
                  <Link
                    to={found.answers.includes(one) ? "/outreach/inbox" : "/outreach/replies"}
                    className={NAME}
                  >
                    {one.business}
                  </Link>
                  <span className={PHONE}>{one.name}</span>
                  <span className={WHEN}>{when(one.at)}</span>
                  <span className="min-w-0 flex-1 truncate">{one.subject}</span>
                </li>
              ))}
            </Part>
            <Part title="Due" count={found.due.length} more={found.more.due}>
              {found.due.map((one) => (
                <li key={one.id} className={ROW}>
                  <Link to={`/outreach/call?b=${one.id}`} className={NAME}>
                    {one.name}
                  </Link>
                  <span className={PHONE}>
                    <Phone number={one.phone} />
                  </span>
                  <span className={WHEN}>{day(one.follow_up)}</span>
                  <span className="min-w-0 flex-1 truncate">{one.stage}</span>
                </li>
              ))}
            </Part>
            <Part title="New for you" count={found.new.length} more={found.more.new}>
              {found.new.map((one) => (
                <li key={one.id} className={ROW}>
                  <Link to={`/outreach/call?shortlist=${one.shortlist}&b=${one.id}`} className={NAME}>
                    {one.name}
                  </Link>
                  <span className={PHONE}>
                    <Phone number={one.phone} />
                  </span>
                  <span className={WHEN}>{one.town}</span>
                  <span className="min-w-0 flex-1 truncate">
                    {services.find((service) => service.id === one.offer)?.title ?? "–"}
                  </span>
                  <span className="w-40 truncate text-soft">{one.list}</span>
                </li>
              ))}
            </Part>
          </div>
        )}
      </section>
    </div>
  );
}

interface PartProps {
  title: string;
  count: number;
  more?: number;
  children: ReactNode;
}

function Part({ title, count: many, more = 0, children }: PartProps) {
  if (many === 0) return null;
  return (
    <section aria-label={title} className="mt-4">
      <h2 className="border-b border-line text-[15px]">
        {title} <span className="text-soft">{count(many + more)}</span>
      </h2>
      <ul>{children}</ul>
      {more > 0 && (
        <p className="text-soft">
          The first {count(many)} are shown; {count(more)} more wait.
        </p>
      )}
    </section>
  );
}
