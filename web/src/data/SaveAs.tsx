import { Download } from "lucide-react";

const formats = ["csv", "tsv", "xlsx", "ods", "json"];

/** SaveAs offers a data set as a file, which is at a path. */
export function SaveAs({ path }: { path: string }) {
  return (
    <details className="dropdown dropdown-end">
      <summary className="btn btn-ghost btn-sm gap-1.5">
        <Download size="1.1em" aria-hidden="true" />
        Save as
      </summary>
      <ul className="dropdown-content z-30 grid w-36 gap-0.5 rounded-box border border-base-300 bg-base-100 p-1.5 shadow-lg">
        {formats.map((format) => (
          <li key={format}>
            <a
              href={`${path}?format=${format}`}
              download
              className="btn btn-ghost btn-sm w-full justify-start font-normal"
            >
              {format.toUpperCase()}
            </a>
          </li>
        ))}
      </ul>
    </details>
  );
}
