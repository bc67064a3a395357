"""Writes normality.json: problems for normality and what must come out, by Royston's
algorithm AS R94 (Applied Statistics 44, 1995) with 50 digits: W as the squared
correlation of exact values with the weights.

    python3 normality.py > normality.json
"""

import json
import sys
from fractions import Fraction

from mpmath import asin, exp, log, mp, mpf, pi, sqrt

from one_mean import z_quantile, z_upper
from t_two_sample import real


def poly(x, *c):
    return sum(mpf(k) * x**i for i, k in enumerate(c))


def weights(n):
    if n == 3:
        return [-sqrt(mpf("0.5")), mpf(0), sqrt(mpf("0.5"))]
    half = [z_quantile((mpf(i) - mpf("0.375")) / (n + mpf("0.25"))) for i in range(1, n // 2 + 1)]  # positive, descending
    total = 2 * sum(m * m for m in half)
    r = 1 / sqrt(mpf(n))
    top = [half[0] / sqrt(total) + poly(r, "0", "0.221157", "-0.147981", "-2.07119", "4.434685", "-2.706056")]
    if n > 5:
        top.append(half[1] / sqrt(total) + poly(r, "0", "0.042981", "-0.293762", "-1.752461", "5.682633", "-3.582633"))
    k = len(top)
    phi = (total - 2 * sum(m * m for m in half[:k])) / (1 - 2 * sum(a * a for a in top))
    upper = top + [m / sqrt(phi) for m in half[k:]]
    return [-a for a in upper] + [mpf(0)] * (n % 2) + upper[::-1]


def royston(values):
    x = sorted(Fraction(v) for v in values)
    n = len(x)
    mean = sum(x) / n
    a = weights(n)
    ss = real(sum((v - mean) ** 2 for v in x))
    w = sum(k * real(v - mean) for k, v in zip(a, x)) ** 2 / (sum(k * k for k in a) * ss)
    if n == 3:
        return w, 6 / pi * (asin(sqrt(w)) - asin(sqrt(mpf("0.75"))))
    if n <= 11:
        y = -log(poly(n, "-2.273", "0.459") - log(1 - w))
        m = poly(n, "0.544", "-0.39978", "0.025054", "-0.0006714")
        s = exp(poly(n, "1.3822", "-0.77857", "0.062767", "-0.0020322"))
    else:
        y = log(1 - w)
        m = poly(log(n), "-1.5861", "-0.31082", "-0.083751", "0.0038915")
        s = exp(poly(log(n), "-0.4803", "-0.082676", "0.0030302"))
    return w, z_upper((y - m) / s)


def main():
    cases = []

    def add(name, groups, alpha=0.05):
        found = [royston(g) for g in groups]
        w, p = min(found, key=lambda pair: pair[1])
        out = {"w": w, "p": p}
        roles, variables = {"response": "x"}, [{"name": "x", "kind": "number", "values": [v for g in groups for v in g]}]
        if len(groups) > 1:
            roles["group"] = "g"
            variables.append({"name": "g", "kind": "category", "values": [f"g{i}" for i, g in enumerate(groups) for _ in g]})
            for i, (w, p) in enumerate(found):
                out |= {f"groups/g{i}/w": w, f"groups/g{i}/p": p}
        cases.append({"name": name, "problem": {"grund": 1, "procedure": "normality", "alpha": alpha, "roles": roles, "data": {"variables": variables}},
                      "expected": {k: mp.nstr(v, 30) for k, v in out.items()}, "reject": bool(min(p for _, p in found) <= real(Fraction(alpha)))})

    mole = [10.8, 11.1, 11.8, 11.9, 12.0, 12.1, 12.3, 12.3, 12.5, 12.5, 12.8, 12.8, 12.8, 13.0, 13.0, 13.0, 13.0, 13.2]
    quarry = [10.1, 11.0, 11.1, 11.2, 12.0, 13.1, 13.4, 13.7, 14.2, 14.3, 14.8, 15.3, 15.8, 16.7, 16.8]
    gaps = [3, 8, 12, 15, 19, 26, 31, 47, 52, 77, 104, 190]
    for n in (3, 4, 5, 6, 7, 10, 11, 12):
        add(f"the first {n} gaps", [gaps[:n]])
    add("three in step", [[1, 2, 3.5]])
    add("two berths", [mole, quarry])
    add("three groups", [mole, gaps, quarry], 0.01)
    add("a large offset", [[1e9 + v / 64 for v in (1, 3, 4, 8, 2, 30, 5, 6)]])
    add("even steps", [list(range(40))])
    add("a tiny p", [[((i * 37) % 101) ** 3 for i in range(100)]])
    add("close to normal", [[float(-z_quantile(mpf(i - 0.375) / 50.25)) for i in range(1, 51)]])
    add("many", [[((i * 7919) % 1009) / 10 for i in range(1, 1009)]])
    json.dump(cases, sys.stdout, indent=1)


if __name__ == "__main__":
    main()
