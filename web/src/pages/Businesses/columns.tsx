import type { ReactNode } from "react";
import type { CheckInfo, Service, Trade } from "../../api/client";
import { Strip } from "../../components/Marks";
import { ago, count, distance, host, money, when } from "../../lib/format";
import type { Row } from "../../queries/businesses";

export interface Column {
  key: string;
  head: string;
  headNode?: ReactNode;
  width: string;
  right?: boolean;
  wideOnly?: boolean;
  falling?: boolean;
  cell: (row: Row) => ReactNode;
}

/** The columns of the table, in their order. */
export function columnsOf({
  checks,
  services,
  trades,
  currency,
}: {
  checks: CheckInfo[];
  services: Service[];
  trades: Trade[];
  currency: string;
}): Column[] {
  const groups = [...new Set(checks.map((check) => check.group))];
  const labels = new Map(trades.map((trade) => [trade.id, trade.label]));
  const titles = new Map(services.map((service) => [service.id, service.title]));
  const dash = <span className="text-soft">–</span>;
  return [
    {
      key: "name",
      head: "Name",
      width: "minmax(150px,1.7fr)",
      cell: (row) => <span className="font-medium">{row.name}</span>,
    },
    {
      key: "trade",
      head: "Trade",
      width: "100px",
      wideOnly: true,
      cell: (row) => labels.get(row.trade) ?? row.trade,
    },
    { key: "town", head: "Town", width: "84px", wideOnly: true, cell: (row) => row.town },
    {
      key: "distance",
      head: "Away",
      width: "52px",
      right: true,
      wideOnly: true,
      cell: (row) => distance(row.distance_m),
    },
    {
      key: "gaps",
      head: "Audit",
      falling: true,
      headNode: <StripHead groups={groups} />,
      width: `${groups.length * 16 + 22}px`,
      cell: (row) => <Strip strip={row.strip} checks={checks} />,
    },
    {
      key: "offer",
      head: "Best offer",
      width: "minmax(124px,1.3fr)",
      cell: (row) => titles.get(row.offer) ?? (row.rejected ? <em>{row.rejected}</em> : dash),
    },
    {
      key: "score",
      head: "Score",
      width: "50px",
      right: true,
      falling: true,
      cell: (row) => (row.score === null ? dash : <span className="font-semibold">{row.score}</span>),
    },
    {
      key: "value",
      head: "Value",
      width: "58px",
      right: true,
      falling: true,
      cell: (row) => money(row.value, currency),
    },
    {
      key: "reviews",
      head: "Reviews",
      width: "64px",
      right: true,
      falling: true,
      wideOnly: true,
      cell: (row) =>
        row.reviews === null
          ? dash
          : `${count(row.reviews)}${row.rating ? ` · ${row.rating.toFixed(1)}` : ""}`,
    },
    {
      key: "website",
      head: "Website",
      width: "minmax(70px,.8fr)",
      wideOnly: true,
      cell: (row) => (row.website ? host(row.website) : <span className="text-acorn">none listed</span>),
    },
    {
      key: "audited",
      head: "Audited",
      width: "58px",
      wideOnly: true,
      falling: true,
      cell: (row) =>
        row.audited_at ? <span title={when(row.audited_at)}>{ago(row.audited_at)}</span> : "not yet",
    },
  ];
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
