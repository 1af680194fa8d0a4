import type { ReactNode } from "react";
import { type Permission, useMay } from "../queries/team";

interface Props {
  what: Permission;
  children: ReactNode;
  otherwise?: ReactNode;
}

/** Shows what is in it to whoever may do this; the application refuses the others in any case. */
export default function May({ what, children, otherwise = null }: Props) {
  return useMay(what) ? children : otherwise;
}
