"""Writes ranks.json: problems for rank-sum and signed-rank and what must come out.
The exact distributions are counted with whole numbers, for small samples by writing
every deal of the ranks out; the pairs behind the shift are written out and sorted.

    python3 ranks.py > ranks.json
"""

import json
import sys
from collections import Counter
from fractions import Fraction
from itertools import combinations, product
from math import comb, floor

from mpmath import mp, mpf, sqrt

from one_mean import z_quantile, z_upper
from t_two_sample import real

HALF = Fraction(1, 2)


def midranks(values):
    return [Fraction(2 * sum(w < v for w in values) + sum(w == v for w in values) + 1, 2) for v in values]


def ties(values):
    return sum(t**3 - t for t in Counter(values).values())


def sums_of(ranks, n1):
    """How many of the draws of n1 ranks have which sum."""
    if comb(len(ranks), n1) <= 20000:
        return Counter(sum(draw) for draw in combinations(ranks, n1))
    by_size = {0: Counter({Fraction(0): 1})}
    for r in ranks:
        grown = {j: Counter(c) for j, c in by_size.items()}
        for j, c in by_size.items():
            if j < n1:
                for s, ways in c.items():
                    grown.setdefault(j + 1, Counter())[s + r] += ways
        by_size = grown
    return by_size[n1]


def signed_sums(ranks):
    if len(ranks) <= 12:
        return Counter(sum(r for r, sign in zip(ranks, signs) if sign) for signs in product((0, 1), repeat=len(ranks)))
    counts = Counter({Fraction(0): 1})
    for r in ranks:
        counts = counts + Counter({s + r: ways for s, ways in counts.items()})
    return counts


def lower_critical(counts, area):
    total, sum_, last = sum(counts.values()), 0, None
    for value in sorted(counts):
        sum_ += counts[value]
        if Fraction(sum_, total) > area:
            break
        last = value
    return last


def upper_critical(counts, area):
    mirrored = lower_critical({-value: ways for value, ways in counts.items()}, area)
    return None if mirrored is None else -mirrored


def work(out, statistic, observed, mean, variance, counts, pairs, tail, alpha, confidence, continuity):
    distance = observed - mean
    if continuity:
        if tail == "both":
            distance = max(Fraction(0), abs(distance) - HALF) * (1 if distance > 0 else -1)
        else:
            distance += HALF if tail == "left" else -HALF
    z = real(distance) / sqrt(real(variance))
    a = Fraction(str(alpha))
    area = a / 2 if tail == "both" else a
    out |= {statistic: observed, "z": z, "p": {"both": 2 * z_upper(abs(z)), "left": z_upper(-z), "right": z_upper(z)}[tail]}
    if counts:
        total = sum(counts.values())
        lower = Fraction(sum(w for v, w in counts.items() if v <= observed), total)
        upper = Fraction(sum(w for v, w in counts.items() if v >= observed), total)
        out["p_exact"] = {"both": min(1, 2 * min(lower, upper)), "left": lower, "right": upper}[tail]
        if tail != "right":
            out["critical_low"] = lower_critical(counts, area)
        if tail != "left":
            out["critical_high"] = upper_critical(counts, area)
    else:
        out["p_exact"] = None
        if tail != "right":
            out["critical_low"] = -z_quantile(real(area))
        if tail != "left":
            out["critical_high"] = z_quantile(real(area))
    outside = a if confidence is None else 1 - Fraction(str(confidence))
    outside = outside / 2 if tail == "both" else outside
    if counts:
        k = lower_critical(counts, outside)
        k = 0 if k is None else floor(k) + 1
    else:
        k = int(mp.floor(real(mean) - z_quantile(real(outside)) * sqrt(real(variance)))) + 1
    pairs = sorted(pairs)
    n = len(pairs)
    out["shift"] = (pairs[(n - 1) // 2] + pairs[n // 2]) / 2
    out["ci_low"] = pairs[k - 1] if 1 <= k <= n and tail != "left" else None
    out["ci_high"] = pairs[n - k] if 1 <= k <= n and tail != "right" else None


def text(value):
    if value is None:
        return None
    return mp.nstr(real(value) if isinstance(value, Fraction) else mpf(value), 30)


def main():
    cases = []

    def put(name, procedure, tail, alpha, confidence, roles, options, variables, out, exact):
        problem = {"grund": 1, "procedure": procedure, "alpha": alpha, "tail": tail, "roles": roles, "options": options,
                   "data": {"variables": variables}}
        if confidence is not None:
            problem["confidence"] = confidence
        deciding = "p_exact" if exact else "p"
        p = out[deciding]
        p = p if isinstance(p, Fraction) else mpf(p)
        reject = p <= (Fraction(str(alpha)) if isinstance(p, Fraction) else real(Fraction(str(alpha))))
        cases.append({"name": name, "problem": problem, "expected": {k: text(v) for k, v in out.items()}, "reject": bool(reject), "deciding": deciding})

    def two(name, first, second, tail="both", alpha=0.05, confidence=None, continuity=False, exact=True):
        x, y = [Fraction(str(v)) for v in first], [Fraction(str(v)) for v in second]
        n1, n2 = len(x), len(y)
        n = n1 + n2
        ranks = midranks(x + y)
        offset = Fraction(n1 * (n1 + 1), 2)
        counts = Counter({s - offset: w for s, w in sums_of(ranks, n1).items()}) if exact else None
        variance = Fraction(n1 * n2, 12) * (n + 1 - Fraction(ties(x + y), n * (n - 1)))
        out = {"rank_sum_1": sum(ranks[:n1])}
        u = sum(Fraction(a > b) + HALF * (a == b) for a in x for b in y)
        work(out, "u", u, Fraction(n1 * n2, 2), variance, counts, [a - b for a in x for b in y], tail, alpha, confidence, continuity)
        put(f"{name} {tail}", "rank-sum", tail, alpha, confidence, {"response": "x", "group": "g"}, {"continuity": continuity}, [
            {"name": "x", "kind": "number", "values": list(first) + [None] + list(second)},
            {"name": "g", "kind": "category", "values": ["a"] * (n1 + 1) + ["b"] * n2}], out, exact)

    def one(name, first, second=None, median=0, tail="both", alpha=0.05, confidence=None, continuity=False, exact=True):
        x = [Fraction(str(v)) for v in first]
        d = [v - Fraction(str(median)) for v in x] if second is None else [v - Fraction(str(w)) for v, w in zip(x, second)]
        kept = [i for i, v in enumerate(d) if v != 0]
        sizes = [abs(d[i]) for i in kept]
        ranks = midranks(sizes)
        n = len(kept)
        w_plus = sum((r for r, i in zip(ranks, kept) if d[i] > 0), Fraction(0))
        counts = signed_sums(ranks) if exact else None
        variance = Fraction(n * (n + 1) * (2 * n + 1), 24) - Fraction(ties(sizes), 48)
        located = [x[i] if second is None else d[i] for i in kept]
        pairs = [(located[i] + located[j]) / 2 for i in range(n) for j in range(i, n)]
        out = {"n": n, "zeros": len(d) - n}
        work(out, "w_plus", w_plus, Fraction(n * (n + 1), 4), variance, counts, pairs, tail, alpha, confidence, continuity)
        options = {"continuity": continuity}
        if second is None:
            roles, variables = {"response": "x"}, [{"name": "x", "kind": "number", "values": [None] + list(first)}]
            options["median"] = median
        else:
            roles = {"first": "x", "second": "y"}
            variables = [{"name": "x", "kind": "number", "values": list(first) + [1]}, {"name": "y", "kind": "number", "values": list(second) + [None]}]
        put(f"{name} {tail}", "signed-rank", tail, alpha, confidence, roles, options, variables, out, exact)

    mole = [10.8, 11.1, 11.8, 11.9, 12.0, 12.1, 12.3, 12.3, 12.5, 12.5, 12.8, 12.8, 12.8, 13.0, 13.0, 13.0, 13.0, 13.2]
    quarry = [10.1, 11.0, 11.1, 11.2, 12.0, 13.1, 13.4, 13.7, 14.2, 14.3, 14.8, 15.3, 15.8, 16.7, 16.8]
    out_trip = [31.2, 30.1, 33.8, 5.3, 2.3, 29.9, 35.4, 28.7, 30.4, 32.2]
    back_trip = [30.0, 30.4, 31.0, 5.1, 2.1, 29.9, 33.1, 29.0, 30.1, 30.0]
    long = [((i * 7919) % 1009) / 10 for i in range(1, 1003)]
    for tail in ("both", "left", "right"):
        two("two berths", mole, quarry, tail, continuity=True)
        two("no ties", [1.1, 2.5, 3.7, 9.2], [0.4, 2.2, 3.1, 4.8, 11.5, 12.0], tail, alpha=0.1)
        two("ties in steps", [1, 1, 2, 4], [2, 2, 4, 4, 9, 9], tail, confidence=0.8)
        two("apart", [1, 2, 3], [4, 5, 6], tail, alpha=0.1)
        one("out and back", out_trip, back_trip, tail=tail)
        one("fares", [2.2, 3.9, 4.4, 1.7, 6.0, 5.1, 3.3, 8.8], None, 3.3, tail, alpha=0.1, confidence=0.9, continuity=True)
    two("just at alpha", [1, 2, 3], [4, 5, 6], "left")
    two("a level that a count just reaches", [1, 2, 3], [4, 5, 6], confidence=0.9)
    two("a correction beyond the distance", [1, 4], [2, 3], continuity=True)
    two("too few", [1], [2, 3])
    two("many", long[:100], [v + 11 for v in long[100:180]], continuity=True)
    two("too many to count", long[:400], [v + 3 for v in long[400:1000]], exact=False)
    one("many differences", [v - 40 for v in long[:150]], None, 0, "right")
    two("too many to count, corrected", long[:400], [v + 3 for v in long[400:1000]], "right", continuity=True, exact=False)
    one("too many to count, corrected", [round(v - 48, 1) for v in long], None, 0, "right", continuity=True, exact=False)
    for tail in ("left", "right"):
        two("a correction past the mean", [1, 4, 8], [2, 3, 9], tail, continuity=True)
    one("too few", [3, 4, 1], [1, 1, 1])
    one("all one way", [3, 4, 6, 7, 9, 12], None, 1)
    one("too many to count", [round(v - 48, 1) for v in long], None, 0, exact=False)
    json.dump(cases, sys.stdout, indent=1)


if __name__ == "__main__":
    main()
