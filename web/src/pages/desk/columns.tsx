import type { ReactNode } from "react";
import type { CheckInfo, Schemas, Service, Trade } from "../../api/client";
import { Phone } from "../../components/Phone";
import Strip from "../../components/Strip";
import { ago, count, day, distance, money, when } from "../../lib/format";
import { groupsOf } from "../../lib/outcome";
import type { Row } from "../../queries/businesses";
import SitePeek from "./SitePeek";

export interface Column {
  key: string;
  head: string;
  headNode?: ReactNode;
  width: string;
  right?: boolean;
  /** Gives way while the panel is open. */
  wideOnly?: boolean;
  falling?: boolean;
  /** The API's columns that the cell reads. */
  needs?: string[];
  /** Shown unless the user chose otherwise. */
  usual?: boolean;
  /** Cannot be sorted by. */
  unsorted?: boolean;
  cell: (row: Row) => ReactNode;
}

interface Names {
  checks: CheckInfo[];
  services: Service[];
  trades: Trade[];
  currency: string;
  known: Schemas["BusinessColumnResponse"][];
}

const dash = <span className="text-soft">–</span>;

/** A column as the application describes it, drawn by its kind alone. */
function ofRegistry({ id, heading, kind, sort, width }: Schemas["BusinessColumnResponse"]): Column {
  const written: Record<string, (cell: string | number) => ReactNode> = {
    phone: (cell) => <Phone number={String(cell)} />,
    count: (cell) => count(Number(cell)),
    day: (cell) => day(String(cell)),
    share: (cell) => `${Math.round(Number(cell) * 100)} %`,
    distance: (cell) => distance(Number(cell)),
  };
  return {
    key: sort || id,
    head: heading,
    width: `${width}px`,
    needs: [id],
    wideOnly: true,
    unsorted: !sort,
    right: ["count", "number", "share", "money", "distance"].includes(kind),
    cell: (row) => {
      const cell = row[id];
      return cell === null || cell === undefined || cell === "" ? dash : (written[kind]?.(cell) ?? cell);
    },
  };
}

/** All columns that the table can show, in their usual order; headings and order keys are the application's. */
export function columnsOf({ checks, services, trades, currency, known }: Names): Column[] {
  const groups = groupsOf(checks);
  const reviewsAt = checks.findIndex((check) => check.id === "reviews_volume");
  const labels = new Map(trades.map((trade) => [trade.id, trade.label]));
  const titles = new Map(services.map((service) => [service.id, service.title]));
  const drawn: (Omit<Column, "key" | "head"> & { id: string })[] = [
    {
      id: "name",
      width: "minmax(136px,1.7fr)",
      usual: true,
      cell: (row) => <span className="font-medium">{row.name}</span>,
    },
    {
      id: "trade",
      width: "100px",
      wideOnly: true,
      usual: true,
      cell: (row) => labels.get(row.trade) ?? row.trade,
    },
    { id: "town", width: "84px", wideOnly: true, usual: true, cell: (row) => row.town },
    {
      id: "distance_m",
      width: "52px",
      right: true,
      wideOnly: true,
      usual: true,
      cell: (row) => distance(row.distance_m),
    },
    {
      id: "strip",
      falling: true,
      usual: true,
      headNode: <StripHead groups={groups.map(({ group }) => group)} />,
      width: `${groups.length * 16 + 22}px`,
      cell: (row) => <Strip strip={row.strip} groups={groups} />,
    },
    {
      id: "offer",
      width: "minmax(124px,1.3fr)",
      usual: true,
      cell: (row) => titles.get(row.offer) ?? (row.rejected ? <em>{row.rejected}</em> : dash),
    },
    {
      id: "score",
      width: "50px",
      right: true,
      falling: true,
      usual: true,
      cell: (row) => (row.score === null ? dash : <span className="font-semibold">{row.score}</span>),
    },
    {
      id: "value",
      width: "58px",
      right: true,
      falling: true,
      usual: true,
      cell: (row) => money(row.value, currency),
    },
    {
      id: "reviews",
      width: "64px",
      right: true,
      falling: true,
      wideOnly: true,
      usual: true,
      cell: (row) => {
        if (row.reviews === null) return dash;
        const few = row.strip[reviewsAt] === "g";
        return (
          <span
            className={few ? "text-acorn" : ""}
            title={few ? "fewer reviews than most peers nearby" : undefined}
          >
            {count(row.reviews)}
            {row.rating ? ` · ${row.rating.toFixed(1)}` : ""}
          </span>
        );
      },
    },
    {
      id: "website",
      width: "minmax(70px,.8fr)",
      wideOnly: true,
      usual: true,
      cell: (row) => (row.website ? <SitePeek row={row} /> : <span className="text-acorn">none listed</span>),
    },
    {
      id: "audited_at",
      width: "66px",
      wideOnly: true,
      falling: true,
      usual: true,
      cell: (row) =>
        row.audited_at ? <span title={when(row.audited_at)}>{ago(row.audited_at)}</span> : "not yet",
    },
    {
      id: "reach",
      width: "50px",
      right: true,
      falling: true,
      wideOnly: true,
      cell: (row) => (row.reach === null ? dash : `${Math.round(row.reach * 100)} %`),
    },
    {
      id: "fit",
      width: "46px",
      right: true,
      falling: true,
      wideOnly: true,
      needs: ["fit"],
      cell: (row) => (typeof row.fit === "number" ? `${Math.round(row.fit * 100)} %` : dash),
    },
    {
      id: "first_seen",
      width: "88px",
      falling: true,
      wideOnly: true,
      needs: ["first_seen"],
      cell: (row) => (row.first_seen ? day(String(row.first_seen)) : dash),
    },
  ];
  const registry = new Map(known.map((column) => [column.id, column]));
  const named = drawn.flatMap(({ id, ...column }) => {
    const { sort, heading } = registry.get(id) ?? {};
    return heading === undefined ? [] : [{ ...column, key: sort || id, head: heading }];
  });
  return [...named, ...known.filter((column) => column.table).map(ofRegistry)];
}

/** Two letters a group, no two alike: "Security" → "Se", "Mail delivery" → "Md", "Content" beside "Contact" → "Cn". */
function shortNames(groups: string[]): Map<string, string> {
  const found = new Map<string, string>();
  for (const group of groups) {
    const words = group.split(" ");
    const forms = [
      words.length > 1 ? `${words[0]?.[0]}${words[words.length - 1]?.[0]}` : group.slice(0, 2),
      ...[...group.slice(2)].map((letter) => `${group[0]}${letter}`),
    ];
    const taken = [...found.values()];
    found.set(group, forms.find((form) => !taken.includes(form)) ?? group.slice(0, 2));
  }
  return found;
}

/** Two letters a group, over the cells of the strip. */
function StripHead({ groups }: { groups: string[] }) {
  const short = shortNames(groups);
  return (
    <span className="flex">
      <span className="sr-only">Audit, by number of gaps: </span>
      {groups.map((group) => (
        <abbr key={group} title={group} className="w-[16px] text-center text-[10.5px] no-underline">
          {short.get(group)}
        </abbr>
      ))}
    </span>
  );
}
