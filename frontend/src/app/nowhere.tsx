import { Link } from "react-router";
import { Empty } from "../shared/ui/Empty";

/** An address that leads nowhere. */
export function Nowhere() {
  return (
    <Empty title="There is nothing at this address">
      <p>The page may have been removed, or the address was cut short.</p>
      <Link className="button" to="/tidy">
        To the tidy
      </Link>
    </Empty>
  );
}
