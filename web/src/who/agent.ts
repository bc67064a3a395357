const browsers: [RegExp, string][] = [
  [/Edg/, "Edge"],
  [/OPR|Opera/, "Opera"],
  [/Firefox|FxiOS/, "Firefox"],
  [/Chrome|Chromium|CriOS/, "Chrome"],
  [/Safari/, "Safari"],
];
const systems: [RegExp, string][] = [
  [/Android/, "Android"],
  [/iPhone|iPad/, "iOS"],
  [/Windows/, "Windows"],
  [/Macintosh|Mac OS/, "macOS"],
  [/Linux|X11/, "Linux"],
];

/** agentWords names a browser and its system, as far as what it calls itself tells. */
export function agentWords(agent: string): string {
  const of = (list: [RegExp, string][]) => list.find(([sign]) => sign.test(agent))?.[1];
  const browser = of(browsers) ?? "A browser";
  const system = of(systems);
  return system ? `${browser} on ${system}` : browser;
}
