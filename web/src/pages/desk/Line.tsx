import { memo } from "react";
import type { Row } from "../../queries/businesses";
import type { Column } from "./columns";

export const ROW_HEIGHT = 30;

interface Props {
  row: Row | undefined;
  index: number;
  start: number;
  columns: Column[];
  template: string;
  here: boolean;
  opened: boolean;
  picked: boolean;
  onCursor: (index: number, id: number) => void;
  onPick: (id: number, index: number, range: boolean) => void;
  onHover: (id: number | null) => void;
}

/** One row; drawn anew only when something of it changes, since the table is drawn at every step of a scroll. */
export default memo(function Line(props: Props) {
  const { row, index, start, columns, template, here, opened, picked, onCursor, onPick, onHover } = props;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the whole desk is keyed, see useDeskKeys
    <div
      id={`row-${index}`}
      role="row"
      tabIndex={-1}
      aria-rowindex={index + 2}
      aria-selected={picked}
      data-id={row?.id}
      onClick={(event) => {
        if (!row) return;
        if (event.shiftKey || event.ctrlKey || event.metaKey) onPick(row.id, index, event.shiftKey);
        else onCursor(index, row.id);
      }}
      onMouseEnter={() => row && onHover(row.id)}
      style={{ gridTemplateColumns: template, height: ROW_HEIGHT, transform: `translateY(${start}px)` }}
      className={`absolute inset-x-0 grid cursor-default items-center border-b border-faint ${opened ? "bg-leaf-soft" : here ? "bg-faint" : "hover:bg-paper"} ${here ? "shadow-[inset_3px_0_0_var(--color-leaf)]" : ""}`}
    >
      <span role="gridcell" className="pl-3">
        {row && (
          <input
            type="checkbox"
            tabIndex={-1}
            checked={picked}
            aria-label={`Select ${row.name}`}
            onClick={(event) => {
              event.stopPropagation();
              onPick(row.id, index, event.shiftKey);
            }}
            onChange={() => undefined}
            className="block size-3.5 accent-leaf"
          />
        )}
      </span>
      {columns.map((column) => (
        <span
          role="gridcell"
          key={column.key}
          className={`truncate px-1.5 ${column.right ? "text-right" : ""}`}
        >
          {row ? column.cell(row) : <span className="block h-2.5 rounded bg-faint" />}
        </span>
      ))}
    </div>
  );
});
