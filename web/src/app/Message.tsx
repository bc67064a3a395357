import { Link } from "react-router";

interface Props {
  title: string;
  says: string;
  retry?: () => void;
}

/** Message fills a page that has nothing else to show: an error, or an address that leads nowhere. */
export function Message({ title, says, retry }: Props) {
  return (
    <div className="mx-auto max-w-xl px-6 py-20" role="alert">
      <h1 className="font-serif font-semibold text-[1.7rem]">{title}</h1>
      <p className="mt-2">{says}</p>
      <p className="mt-6 flex gap-6">
        {retry && (
          <button type="button" className="act" onClick={retry}>
            Try again
          </button>
        )}
        <Link to="/" className="act">
          To the problems
        </Link>
      </p>
    </div>
  );
}
