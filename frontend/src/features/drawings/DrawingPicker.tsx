import { Menu } from "@mantine/core";
import { useState } from "react";
import type { Context } from "../../shared/queries/collection";
import { Failed } from "../../shared/ui/Problem";
import { useChooseDrawing, useDrawings } from "./queries";
import classes from "./DrawingPicker.module.css";

/** The drawing at hand, first in the context line, and the way to another; the page knows it by `opened`. */
export function DrawingPicker({ context, opened, onOpened, onAll, onNew }: {
  context: Context;
  opened: boolean;
  onOpened: (opened: boolean) => void;
  onAll: () => void;
  onNew: () => void;
}) {
  const [wanted, setWanted] = useState(false);
  const { data } = useDrawings(wanted || opened);
  const choose = useChooseDrawing();
  const at = context.drawing ?? null;
  return (
    <span className={classes.picker}>
      <Menu opened={opened} onChange={onOpened} transitionProps={{ duration: 0 }} position="bottom-start" returnFocus>
        <Menu.Target>
          <button
            type="button"
            className="button"
            aria-label={`Drawing: ${at?.name ?? "No drawing"}. Choose another`}
            title="What you are working on: paper, closest and tray follow it"
            onPointerEnter={() => setWanted(true)}
          >
            <strong className={classes.name}>{at?.name ?? "No drawing"}</strong>
          </button>
        </Menu.Target>
        <Menu.Dropdown>
          {data?.drawings
            .filter((drawing) => drawing.state === "at work")
            .map((drawing) => (
              <Menu.Item key={drawing.id} onClick={() => choose.mutate(drawing.id)} aria-current={drawing.at_hand || undefined}>
                {drawing.said.name} <span className="soft">on {drawing.paper_name}</span>
              </Menu.Item>
            ))}
          <Menu.Item onClick={() => choose.mutate(null)} disabled={at === null}>
            No drawing
          </Menu.Item>
          <Menu.Divider />
          <Menu.Item onClick={onNew}>A new drawing …</Menu.Item>
          <Menu.Item onClick={onAll}>All drawings</Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <kbd className={classes.key}>d</kbd>
      {choose.error !== null && <Failed error={choose.error} />}
    </span>
  );
}
