import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { Button } from "../../components/Button";
import { Key } from "../../components/Key";
import Legend from "../../components/Legend";
import { KEYS } from "./useDeskKeys";

const NAMES: Record<string, string> = { ArrowDown: "↓", ArrowUp: "↑", Escape: "Esc", Enter: "Enter" };

export default function HelpSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-ink/25" aria-hidden="true" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="w-[420px] border border-line bg-sheet p-5 shadow-xl">
          <DialogTitle className="text-lg">Keyboard shortcuts</DialogTitle>
          <dl className="mt-3 grid grid-cols-[90px_1fr] gap-y-1.5">
            {KEYS.map(([keys, action, text]) => (
              <div key={action} className="contents">
                <dt className="flex gap-1">
                  {keys.map((key) => (
                    <Key key={key}>{NAMES[key] ?? key}</Key>
                  ))}
                </dt>
                <dd>{text}</dd>
              </div>
            ))}
          </dl>
          <h3 className="mt-4 mb-1.5">The audit strip</h3>
          <Legend />
          <Button className="mt-4" onClick={onClose}>
            Close
          </Button>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
