import { describe, expect, it } from "vitest";
import { leftInWords, type Moment, timeLeft, withMoment } from "./timeleft";

function run(shareAt: (s: number) => number, until: number): Moment[] {
  let moments: Moment[] = [];
  for (let at = 0; at <= until; at += 0.5) moments = withMoment(moments, { at, share: shareAt(at) });
  return moments;
}

describe("time left", () => {
  it("is that of a steady pace", () => {
    expect(
      timeLeft(
        run((s) => s / 100, 30),
        30,
      ),
    ).toBeCloseTo(70, 0);
  });

  it("follows a pace that changes instead of holding on to a slow start", () => {
    // a minute for the first tenth, then a hundredth a second
    const share = (s: number) => (s < 60 ? s / 600 : 0.1 + (s - 60) / 100);
    expect(timeLeft(run(share, 90), 90)).toBeCloseTo(60, 0);
  });

  it("is not told at the very beginning, nor where nothing moves", () => {
    expect(
      timeLeft(
        run((s) => s / 10, 1),
        1,
      ),
    ).toBeNull();
    const stuck = run((s) => Math.min(s / 10, 0.95), 30);
    expect(timeLeft(stuck, 30)).toBeNull();
  });

  it("never promises a second for ten seconds", () => {
    const share = (s: number) => Math.min(s / 10, 0.99);
    for (let now = 10; now <= 20; now += 0.5) {
      const left = timeLeft(run(share, now), now);
      if (left !== null) expect(now).toBeLessThan(16);
    }
  });

  it("begins anew with another job", () => {
    const moments = withMoment(
      run((s) => s / 100, 30),
      { at: 0, share: 0 },
    );
    expect(moments).toEqual([{ at: 0, share: 0 }]);
  });
});

describe("words", () => {
  it.each([
    [1, "a few seconds left"],
    [12, "about 15 s left"],
    [70, "about a minute left"],
    [400, "about 7 min left"],
    [3600, "about 1 h left"],
    [5400, "about 1 h 30 min left"],
  ])("%d s", (seconds, words) => expect(leftInWords(seconds)).toBe(words));
});
