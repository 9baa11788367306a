import { Link } from "react-router";

/** Which visit a line of a list is about: its site as the way to it, its number and a word more. */
export function VisitCell({ to, line, about }: { to: string; line: { site: string; number: string }; about: string }) {
  return (
    <td>
      <Link to={to} className="strong">
        {line.site}
      </Link>
      <span className="small quiet block">
        {line.number} · {about}
      </span>
    </td>
  );
}
