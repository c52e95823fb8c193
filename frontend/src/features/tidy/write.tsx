import { useDebouncedValue } from "@mantine/hooks";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { useSetting } from "../../shared/queries/collection";
import { Check, Field } from "../../shared/ui/Field";
import { useDraft } from "../../shared/ui/draft";
import { Failed } from "../../shared/ui/Problem";
import { useChartRead, useWriteChart, type ChartList } from "./queries";
import { WrittenLines } from "./WrittenLines";
import classes from "./write.module.css";

const LONGEST_FILE = 240_000;
const EXAMPLE = "101  Oxlip  ***\n102  Fly Cap  **\n103  Wet Slate  ***";

/** A chart written from whatever list there is; how each line is read stands beside it while it is typed. */
export function WriteChartPage() {
  const setting = useSetting();
  const [text, setText, forget] = useDraft("tidy-tinder-chart-draft");
  const [maker, setMaker, forgetMaker] = useDraft("tidy-tinder-chart-maker");
  const [range, setRange, forgetRange] = useDraft("tidy-tinder-chart-range");
  const [box, setBox, forgetBox] = useDraft("tidy-tinder-chart-box");
  const [own, setOwn] = useState(true);
  const list: ChartList = { text, maker, range_name: range, set_name: box, own };
  const [asked] = useDebouncedValue(list, 150);
  const { data, error } = useChartRead(asked);
  const write = useWriteChart();
  const navigate = useNavigate();
  const area = useRef<HTMLTextAreaElement>(null);
  const read = text.trim() === "" ? undefined : data;
  const title = read?.title ?? "";
  const count = read?.colours ?? 0;
  const [left, setLeft] = useState<number | null>(null);
  const goTo = (line: number) => {
    const start = text.split("\n").slice(0, line - 1).join("\n").length + (line > 1 ? 1 : 0);
    area.current?.focus();
    area.current?.setSelectionRange(start, start + (text.split("\n")[line - 1]?.length ?? 0));
  };
  return (
    <div className={classes.page}>
      <form
        className={classes.form}
        onSubmit={(event) => {
          event.preventDefault();
          setLeft(null);
          write.mutate(list, {
            onSuccess: async (done) => {
              if (done.left !== "") {
                setText(done.left);
                setLeft(done.colours);
                return;
              }
              for (const draft of [forget, forgetMaker, forgetRange, forgetBox]) draft();
              await navigate(own ? "/tidy" : "/tidy/charts");
            },
          });
        }}
      >
        <p>
          <Link to="/tidy">Tidy</Link> /
        </p>
        <h1>Write a chart</h1>
        <p>
          Paste the colours of a range from wherever they stand: a leaflet, a shop&apos;s page, a spreadsheet, the lid of the tin.
          Codes and names in any order, one colour a line or several.
        </p>
        <div className={classes.about}>
          <Field label="Maker" value={maker} onChange={setMaker} maxLength={120} />
          <Field label="Range" value={range} onChange={setRange} required maxLength={120} />
          <Field label="The box they came in" value={box} onChange={setBox} maxLength={120} hint="A set of that name gets these colours; leave it empty where they are no box" />
        </div>
        {title !== "" && range === "" && (
          <p className="row">
            {read?.box ? `The list speaks of “${title}” and “${read.box}”.` : `The list speaks of “${title}”.`}
            <button
              type="button"
              className="button"
              onClick={() => {
                setRange(title);
                if (box === "") setBox(read?.box ?? "");
              }}
            >
              {read?.box ? "These are range and box" : "That is the range"}
            </button>
          </p>
        )}
        <label htmlFor="chart-list" className="visually-hidden">
          The list of colours
        </label>
        <textarea
          id="chart-list"
          ref={area}
          className={`field ${classes.text ?? ""}`}
          value={text}
          data-main
          spellCheck={false}
          placeholder={EXAMPLE}
          onChange={(event) => setText(event.currentTarget.value)}
        />
        <ListFile onText={(more) => setText(text.trim() === "" ? more : `${text.trimEnd()}\n${more}`)} />
        <Check label="I own a pencil of each of these" value={own} onChange={setOwn} />
        <div className="row">
          <button type="submit" className="button" data-strong disabled={count === 0 || write.isPending}>
            {count === 1 ? "Write this 1 colour" : `Write these ${count} colours`}
          </button>
          {left !== null && (
            <strong role="status">
              {left} {left === 1 ? "is" : "are"} written. What is left here was not read: mend it and write it too, or <Link to="/tidy">leave it</Link>.
            </strong>
          )}
        </div>
        {write.error !== null && <Failed error={write.error} />}
      </form>
      <section className={classes.read} aria-label="How it is read">
        {error !== null && <Failed error={error} />}
        {read === undefined && error === null && (
          <p>How each line is read is shown here while you type; nothing is written before you say so.</p>
        )}
        {read !== undefined && setting !== undefined && (
          <WrittenLines read={read} paper={setting.paper} own={own} onLine={goTo} />
        )}
      </section>
    </div>
  );
}

/** A list that lies in a file: it is put below what stands in the field, where it can be looked at and mended. */
function ListFile({ onText }: { onText: (text: string) => void }) {
  const [problem, setProblem] = useState("");
  const read = async (file: File) => {
    if (file.size > LONGEST_FILE) {
      setProblem(`${file.name} is too long for a list of colours: at most ${LONGEST_FILE / 1000} kB are read.`);
      return;
    }
    try {
      onText(new TextDecoder("utf-8", { fatal: true }).decode(await file.arrayBuffer()));
      setProblem("");
    } catch {
      setProblem(`${file.name} is not text in UTF-8. Save it as UTF-8, or copy its lines and paste them.`);
    }
  };
  return (
    <>
      <label className="row">
        Or from a file: a text, a table, a palette (.gpl)
        <input
          type="file"
          accept=".txt,.csv,.tsv,.gpl,text/plain"
          onChange={(event) => {
            const file = event.currentTarget.files?.[0];
            event.currentTarget.value = "";
            if (file !== undefined) void read(file);
          }}
        />
      </label>
      {problem !== "" && <p role="alert">{problem}</p>}
    </>
  );
}
