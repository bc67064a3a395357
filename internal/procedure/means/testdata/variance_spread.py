"""Writes variance_spread.json: problems for variance-spread and what must come out.
The sums of squares are exact fractions; areas of F are taken with mpmath at 60
digits.

    python3 variance_spread.py > variance_spread.json
"""

import json
import sys
from fractions import Fraction

from mpmath import mp, mpf

from t_two_sample import real
from variance_ratio import quantile, upper


def centre(values, how):
    if how == "mean":
        return sum(values) / len(values)
    ordered = sorted(values)
    n = len(ordered)
    return (ordered[(n - 1) // 2] + ordered[n // 2]) / 2


def main():
    mole = [10.8, 11.1, 11.8, 11.9, 12.0, 12.1, 12.3, 12.3, 12.5, 12.5, 12.8, 12.8, 12.8, 13.0, 13.0, 13.0, 13.0, 13.2]
    quarry = [10.1, 11.0, 11.1, 11.2, 12.0, 13.1, 13.4, 13.7, 14.2, 14.3, 14.8, 15.3, 15.8, 16.7, 16.8]
    lantern = [9.5, 12.0, 12.25, 13.0, 20.0, 11.0]
    offset = [[1e9 + x / 64 for x in (1, 3, 4, 8, 2, 30)], [1e9 + x / 64 for x in (9, 4, 7, 11, 10, 6)], [1e9 + 0.1, 1e9 + 0.7, 1e9 - 0.3]]
    far = [[float(i % 7) for i in range(60)], [1000.0 * (i % 5) for i in range(55)]]
    cases = []

    def add(name, groups, how="median", alpha=0.05):
        z = []
        for group in groups:
            values = [Fraction(v) for v in group]
            c = centre(values, how)
            z.append([abs(v - c) for v in values])
        n = sum(map(len, z))
        grand = sum(map(sum, z)) / n
        means = [sum(g) / len(g) for g in z]
        between = sum(len(g) * (m - grand) ** 2 for g, m in zip(z, means))
        within = sum((v - m) ** 2 for g, m in zip(z, means) for v in g)
        d1, d2 = len(z) - 1, n - len(z)
        f = real((between / d1) / (within / d2))
        a = real(Fraction(alpha))
        out = {"f": f, "df_1": d1, "df_2": d2, "ss_between": real(between), "ss_within": real(within), "critical_high": quantile(a, d1, d2)}
        out["p"] = upper(f, d1, d2) if f > 0 else mpf(1)
        problem = {"grund": 1, "procedure": "variance-spread", "alpha": alpha, "roles": {"response": "x", "group": "g"}, "options": {"deviations_from": how}, "data": {"variables": [
            {"name": "g", "kind": "category", "values": [f"g{i}" for i, g in enumerate(groups) for _ in g]},
            {"name": "x", "kind": "number", "values": [v for g in groups for v in g]}]}}
        cases.append({"name": f"{name}, {how}", "problem": problem, "expected": {k: mp.nstr(mpf(v), 30) for k, v in out.items()}, "reject": bool(out["p"] <= a)})

    for how in ("median", "mean"):
        add("two berths", [mole, quarry], how)
        add("three piers", [mole, quarry, lantern], how, 0.01)
        add("few", [[1.0, 4.0], [2.0, 2.5, 9.0]], how)
        add("a group of one", [[1.0, 4.0, 6.0], [2.0, 2.5, 9.0], [3.0]], how)
        add("offset", offset, how)
        add("tiny p", far, how)
    json.dump(cases, sys.stdout, indent=1)


if __name__ == "__main__":
    main()
