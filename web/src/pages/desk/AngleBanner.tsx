import type { Angle, Service } from "../../api/client";
import { money } from "../../lib/format";

interface Props {
  angle: Angle;
  services: Service[];
  currency: string;
}

/** What the angle sells, what it is worth, and how to begin the call. */
export default function AngleBanner({ angle, services, currency }: Props) {
  const service = services.find((item) => item.id === angle.service);
  return (
    <p className="border-b border-line bg-acorn-soft/60 px-3 py-1.5">
      <strong className="font-semibold">{angle.name}</strong>
      {service && (
        <span>
          {" "}
          sells {service.title.toLowerCase()}, worth {money(angle.worth, currency)} in total.
        </span>
      )}{" "}
      <q className="font-serif italic">{angle.line}</q>
    </p>
  );
}
