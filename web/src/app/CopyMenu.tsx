import { CopyFace, copyLook } from "./CopyButton";
import { Menu } from "./Menu";
import { useCopying } from "./useCopying";

/** CopyWay is one of the ways to copy a thing. */
export interface CopyWay {
  words: string;
  copy: () => Promise<void>;
}

interface Props {
  /** What is copied, as "Copy the table “…”". */
  label: string;
  words?: string;
  ways: CopyWay[];
}

/** CopyMenu offers the ways to copy a thing. */
export function CopyMenu({ label, words, ways }: Props) {
  const { copying, run } = useCopying();
  return (
    <Menu
      label={label}
      className={copyLook}
      items={ways.map((way) => ({ words: way.words, act: () => run(way.copy) }))}
    >
      <CopyFace copying={copying} words={words} />
    </Menu>
  );
}
