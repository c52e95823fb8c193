import type { ReactNode } from "react";
import { Link } from "react-router";
import { useCollection, type Context } from "../queries/collection";
import { Loading } from "./Loading";

type AtHand = NonNullable<Context["drawing"]>;

/** What needs the drawing at hand; it begins anew with another one. empty: what stands there while none is at hand. */
export function WithDrawing({ children, empty }: { children: (drawing: AtHand, context: Context) => ReactNode; empty?: (context: Context) => ReactNode }) {
  const { data: context } = useCollection();
  if (context === undefined) return <Loading what="the drawing" />;
  if (context.drawing !== null) return children(context.drawing, context);
  if (empty !== undefined) return empty(context);
  return (
    <p className="station-page">
      No drawing is at hand. <Link to="/drawings">Choose one</Link>.
    </p>
  );
}

/** The first thing to do where a station has no drawing. */
export function BeginDrawing({ context }: { context: Context }) {
  return (
    <p className="row">
      <Link className="button" data-strong data-main to="/drawings?new">
        Begin a drawing
      </Link>
      {context.drawings > 0 && (
        <Link className="button" to="/drawings">
          Choose one of {context.drawings}
        </Link>
      )}
    </p>
  );
}
