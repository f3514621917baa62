import { expect, it } from "vitest";
import { countRequest } from "./rate";

/** draft-ietf-httpapi-ratelimit-headers-10, from memory: a list of policies, and what is left of them until when. */
it("counts a minute from the first request on, and says what is left", () => {
  const at = (ms: number) => countRequest("a", 2, 1_000_000 + ms);
  expect(at(0)).toEqual({
    over: false,
    perMinute: 2,
    seconds: 60,
    headers: { "ratelimit-policy": '"key";q=2;w=60', ratelimit: '"key";r=1;t=60' },
  });
  expect([at(20_500).over, at(20_500).over]).toEqual([false, true]);
  expect(at(59_999).headers).toMatchObject({ ratelimit: '"key";r=0;t=1', "retry-after": "1" });
  expect(countRequest("b", 2, 1_000_000).over).toBe(false);
  expect(at(60_000).over).toBe(false);
  // A clock that was set back begins anew.
  expect(at(-1).over).toBe(false);
});
