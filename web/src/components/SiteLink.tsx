import { ArrowTopRightOnSquareIcon } from "@heroicons/react/16/solid";
import { host } from "../lib/format";
import { webAddress } from "../lib/link";

/** A business's website, opened in a window of its own that learns nothing of us. */
export default function SiteLink({ site }: { site: string }) {
  return (
    <a href={webAddress(site)} target="_blank" rel="noopener noreferrer" className="text-leaf-dark underline">
      {host(site)} <ArrowTopRightOnSquareIcon className="inline size-3" />
    </a>
  );
}
