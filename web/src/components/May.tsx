import type { ReactNode } from "react";
import { type Permission, useMay } from "../queries/team";

interface Props {
  what: Permission;
  children: ReactNode;
}

/** Shows what is in it to whoever may do this; the application refuses the others in any case. */
export default function May({ what, children }: Props) {
  return useMay(what) ? children : null;
}
