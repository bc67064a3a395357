"""Writes variance_ratio.json: problems for variance-ratio and what must come out.
Variances are exact fractions; areas and quantiles of F are taken with mpmath at 60
digits.

    python3 variance_ratio.py > variance_ratio.json
"""

import json
import sys
from fractions import Fraction

from mpmath import betainc, findroot, log, exp, mp, mpf, sqrt

from t_two_sample import moments, real


def upper(f, d1, d2):
    """P(F >= f)."""
    return betainc(mpf(d2) / 2, mpf(d1) / 2, 0, d2 / (d2 + d1 * f), regularized=True)


def lower(f, d1, d2):
    return upper(1 / f, d2, d1)


def quantile(area, d1, d2):
    """The f with P(F >= f) = area."""
    low, high = mpf(-60), mpf(60)
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if upper(exp(middle), d1, d2) > area else (low, middle)
    return exp(findroot(lambda u: log(upper(exp(u), d1, d2) / area), (low + high) / 2))


def main():
    mole = [10.8, 11.1, 11.8, 11.9, 12.0, 12.1, 12.3, 12.3, 12.5, 12.5, 12.8, 12.8, 12.8, 13.0, 13.0, 13.0, 13.0, 13.2]
    quarry = [10.1, 11.0, 11.1, 11.2, 12.0, 13.1, 13.4, 13.7, 14.2, 14.3, 14.8, 15.3, 15.8, 16.7, 16.8]
    few = [3.25, 3.5, 3.0], [2.75, 4.0]
    offset = [1e9 + x / 64 for x in (1, 3, 4, 8, 2)], [1e9 + x / 64 for x in (9, 4, 7, 11, 10, 6)]
    far = [float(i % 7) for i in range(80)], [1000.0 * (i % 5) for i in range(75)]
    cases = []

    def add(name, groups, tail="both", alpha=0.05, confidence=None, summary=False, turned=False):
        problem = {"grund": 1, "procedure": "variance-ratio", "alpha": alpha, "tail": tail}
        if confidence is not None:
            problem["confidence"] = confidence
        if summary:
            parts = [(n, Fraction(sd) ** 2) for n, _, sd in groups]
            problem["data"] = {"summary": {"groups": [{"label": label, "n": n, "mean": m, "sd": sd} for label, (n, m, sd) in zip("ab", groups)]}}
        else:
            parts = [(len(g), moments(g)[2]) for g in groups]
            problem["roles"] = {"response": "x", "group": "g"}
            problem["data"] = {"variables": [
                {"name": "g", "kind": "category", "values": ["a"] * len(groups[0]) + ["b"] * len(groups[1])},
                {"name": "x", "kind": "number", "values": list(groups[0]) + list(groups[1])}]}
        if turned:
            problem["options"] = {"groups": ["b", "a"]}
            parts.reverse()
        (n1, v1), (n2, v2) = parts
        d1, d2, f = n1 - 1, n2 - 1, real(v1 / v2)
        out = {"variance_1": real(v1), "variance_2": real(v2), "sd_1": sqrt(real(v1)), "f": f, "df_1": d1, "df_2": d2}
        a = real(Fraction(alpha))
        outside = a if confidence is None else 1 - real(Fraction(confidence))
        if tail == "both":
            out["p"] = min(mpf(1), 2 * min(upper(f, d1, d2), lower(f, d1, d2)))
            out |= {"critical_high": quantile(a / 2, d1, d2), "critical_low": 1 / quantile(a / 2, d2, d1)}
            out |= {"ci_low": f / quantile(outside / 2, d1, d2), "ci_high": f * quantile(outside / 2, d2, d1)}
        elif tail == "right":
            out |= {"p": upper(f, d1, d2), "critical_high": quantile(a, d1, d2), "ci_low": f / quantile(outside, d1, d2), "ci_high": None}
        else:
            out |= {"p": lower(f, d1, d2), "critical_low": 1 / quantile(a, d2, d1), "ci_low": None, "ci_high": f * quantile(outside, d2, d1)}
        expected = {key: None if value is None else mp.nstr(mpf(value), 30) for key, value in out.items()}
        cases.append({"name": name, "problem": problem, "expected": expected, "reject": bool(out["p"] <= a)})

    for tail in ("both", "left", "right"):
        for alpha in (0.05, 0.01):
            add(f"berths {tail} {alpha}", (mole, quarry), tail, alpha)
        add(f"berths turned {tail}", (mole, quarry), tail, turned=True)
        add(f"few {tail}", few, tail)
        add(f"summary {tail}", ((18, 12.38, 0.67), (15, 13.57, 2.13)), tail, summary=True)
    add("offset", offset)
    add("tiny p", far)
    add("equal spreads", ([1.0, 2.0, 3.0, 4.0], [5.0, 6.0, 7.0, 8.0]))
    add("confidence 0.9", (mole, quarry), confidence=0.9)
    add("right, confidence 0.99", (mole, quarry), "right", confidence=0.99)
    json.dump(cases, sys.stdout, indent=1)


if __name__ == "__main__":
    main()
