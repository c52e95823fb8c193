import { Menu } from "@mantine/core";
import type { CSSProperties } from "react";
import type { Paper } from "../queries/collection";
import classes from "./PaperPicker.module.css";

/** The paper at hand: its own colour, its name, and the way to another. */
export function PaperPicker(props: {
  papers: readonly Paper[];
  chosen: number;
  onTurn: (by: number) => void;
  onChoose: (id: number) => void;
  onNew: () => void;
}) {
  const paper = props.papers.find((p) => p.id === props.chosen);
  const alone = props.papers.length < 2;
  return (
    <span className={classes.picker}>
      <span className={classes.label}>on</span>
      <Menu transitionProps={{ duration: 0 }} position="bottom-start">
        <Menu.Target>
          <button type="button" className="button" aria-label={`Paper: ${paper?.name ?? "none"}. Choose another`}>
            {paper && <Sheet colour={paper.colour} />}
            <strong>{paper?.name ?? "no paper"}</strong>
          </button>
        </Menu.Target>
        <Menu.Dropdown>
          {props.papers.map((p) => (
            <Menu.Item key={p.id} onClick={() => props.onChoose(p.id)}>
              <span className={classes.item}>
                <Sheet colour={p.colour} />
                {p.name}
                <span className={classes.kind}>{p.tooth} tooth</span>
              </span>
            </Menu.Item>
          ))}
          <Menu.Divider />
          <Menu.Item onClick={props.onNew}>A new paper …</Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <button type="button" className={classes.turn} disabled={alone} onClick={() => props.onTurn(-1)} aria-label="Paper before">
        <kbd>[</kbd>
      </button>
      <button type="button" className={classes.turn} disabled={alone} onClick={() => props.onTurn(1)} aria-label="Paper after">
        <kbd>]</kbd>
      </button>
    </span>
  );
}

/** A sheet in a paper's own colour. */
export function Sheet({ colour }: { colour: Paper["colour"] }) {
  const colours = { "--hue": colour.hex, "--hue-grey": colour.grey } as CSSProperties;
  return <span className={`hued ${classes.sheet ?? ""}`} data-hued="paper" style={colours} />;
}
