import { expect, test } from "vitest";
import { agentWords } from "./agent";

test.each([
  [
    "Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/144.0.0.0 Safari/537.36 Edg/144.0",
    "Edge on Windows",
  ],
  ["Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0", "Firefox on Linux"],
  [
    "Mozilla/5.0 (iPhone; CPU iPhone OS 19_1 like Mac OS X) AppleWebKit/605 (KHTML, like Gecko) Version/19.1 Mobile Safari/604.1",
    "Safari on iOS",
  ],
  [
    "Mozilla/5.0 (Linux; Android 15) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/144.0 Mobile Safari/537.36",
    "Chrome on Android",
  ],
  ["curl/8.1", "A browser"],
  ["", "A browser"],
])("%s is called so", (agent, words) => {
  expect(agentWords(agent)).toBe(words);
});
