"""Writes counts.json: problems about counts and what must come out. Statistics and exact
p-values are exact fractions, areas and quantiles are taken with mpmath at 50 digits.

    python3 counts.py > counts.json
"""

import json
import random
from fractions import Fraction as F
from math import ceil, comb, factorial, floor, log2

from mpmath import exp, gammainc, inf, log, mp, mpf, ncdf, sqrt

mp.dps = 50
random.seed(5)


def real(x):
    return mpf(x.numerator) / mpf(x.denominator) if isinstance(x, F) else mpf(x)


def chi_upper(x, df):
    return gammainc(mpf(df) / 2, real(x) / 2, inf, regularized=True)


def chi_quantile(p, df):
    low, high = mpf(0), mpf(1000)
    for _ in range(170):
        middle = (low + high) / 2
        low, high = (middle, high) if chi_upper(middle, df) > p else (low, middle)
    return low


cases = []


def add(name, problem, expected, reject, deciding="p"):
    text = {k: None if v is None else mp.nstr(real(v) if isinstance(v, F) else mpf(v), 30) for k, v in expected.items()}
    cases.append({"name": name, "problem": {"grund": 1, "alpha": 0.05, **problem}, "expected": text, "reject": bool(reject), "deciding": deciding})


def multinomial(counts, shares):
    p = F(factorial(sum(counts)))
    for c, s in zip(counts, shares):
        p *= s**c / F(factorial(c))
    return p


def partitions(n, k):
    if k == 1:
        yield (n,)
        return
    for i in range(n + 1):
        for rest in partitions(n - i, k - 1):
            yield (i, *rest)


def goodman(o, n, k, area):
    a = chi_quantile(mpf(area) / k, 1)
    root = sqrt(a * (a + 4 * mpf(o) * (n - o) / n))
    return (a + 2 * o - root) / (2 * (n + a)), (a + 2 * o + root) / (2 * (n + a))


def fit(name, observed, weights, alpha="0.05"):
    n, total = sum(observed), sum(F(w) for w in weights)
    shares = [F(w) / total for w in weights]
    contributions = [(o - n * s) ** 2 / (n * s) for o, s in zip(observed, shares)]
    chi, df = sum(contributions), len(observed) - 1
    expected = {"n": n, "chi_square": chi, "df": df, "p": chi_upper(chi, df), "critical_high": chi_quantile(mpf(alpha), df)}
    if comb(n + df, df) <= 30000:
        limit = multinomial(observed, shares)
        expected["p_exact"] = sum((p for p in (multinomial(c, shares) for c in partitions(n, len(observed))) if p <= limit), F(0))
    for i, (o, s) in enumerate(zip(observed, shares)):
        low, high = goodman(o, n, len(observed), alpha)
        key = f"categories/c{i}/"
        expected |= {key + "expected": n * s, key + "contribution": contributions[i], key + "residual": real(o - n * s) / sqrt(real(n * s)), key + "ci_low": low, key + "ci_high": high}
    options = {} if len(set(weights)) == 1 else {"options": {"proportions": [float(F(w)) for w in weights]}}
    add(name, {"procedure": "chi-square-fit", **options, "data": {"counts": {"categories": [f"c{i}" for i in range(len(observed))], "observed": observed}}},
        expected, expected["p"] <= mpf(alpha))


fit("equal", [18, 22, 31, 12, 25, 40, 8], [1] * 7)
fit("ratios", [30, 14, 6], [2, 1, 1])
fit("percentages", [9, 3, 4, 0], ["56.25", "18.75", "18.75", "6.25"])
fit("two categories", [14, 6], ["0.5", "0.5"])
fit("one never seen", [12, 0, 9], [1, 1, 1])


def tables(rows, columns):
    if len(rows) == 1:
        yield (tuple(columns),)
        return
    def fill(left, caps):
        if len(caps) == 1:
            if left <= caps[0]:
                yield (left,)
            return
        for x in range(min(left, caps[0]) + 1):
            for rest in fill(left - x, caps[1:]):
                yield (x, *rest)
    for row in fill(rows[0], columns):
        for rest in tables(rows[1:], [c - x for c, x in zip(columns, row)]):
            yield (row, *rest)


def weight(table):
    w = F(1)
    for row in table:
        for x in row:
            w /= factorial(x)
    return w


def labels(prefix, n):
    return [f"{prefix}{i}" for i in range(n)]


def independence(name, cells, continuity=False):
    r, c = len(cells), len(cells[0])
    rows, columns = [sum(row) for row in cells], [sum(col) for col in zip(*cells)]
    n = sum(rows)
    e = [[F(a * b, n) for b in columns] for a in rows]
    step = F(1, 2) if continuity else F(0)
    plain = sum((cells[i][j] - e[i][j]) ** 2 / e[i][j] for i in range(r) for j in range(c))
    part = [[max(abs(cells[i][j] - e[i][j]) - step, F(0)) ** 2 / e[i][j] for j in range(c)] for i in range(r)]
    chi, df = sum(map(sum, part)), (r - 1) * (c - 1)
    g = 2 * sum(x * log(real(F(x) / e[i][j])) for i, row in enumerate(cells) for j, x in enumerate(row) if x)
    weights = [weight(t) for t in tables(rows, columns)]
    limit = weight(cells)
    exact = sum((w for w in weights if w <= limit), F(0)) / sum(weights)
    expected = {"n": n, "chi_square": chi, "df": df, "p": chi_upper(chi, df), "critical_high": chi_quantile(mpf("0.05"), df), "g": g, "p_g": gammainc(mpf(df) / 2, g / 2, inf, regularized=True),
                "cramers_v": sqrt(real(plain / n / (min(r, c) - 1))), "p_exact": exact}
    for i in range(r):
        for j in range(c):
            key = f"cells/r{i}|c{j}/"
            residual = real(cells[i][j] - e[i][j]) / sqrt(real(e[i][j]))
            expected |= {key + "observed": cells[i][j], key + "expected": e[i][j], key + "contribution": part[i][j], key + "residual": residual,
                         key + "adjusted_residual": residual / sqrt(real((1 - F(rows[i], n)) * (1 - F(columns[j], n)))), key + "row_percent": F(100 * cells[i][j], rows[i]),
                         key + "column_percent": F(100 * cells[i][j], columns[j]), key + "total_percent": F(100 * cells[i][j], n)}
    if r == c == 2:
        (a, b), (cc, d) = cells
        expected |= {"phi": (a * d - b * cc) / sqrt(mpf(rows[0] * rows[1] * columns[0] * columns[1])),
                     "odds_ratio": F(a * d, b * cc) if b * cc else None, "ratio": F(a, rows[0]) / F(cc, rows[1]) if cc else None}
    counts = {"rows": labels("r", r), "columns": labels("c", c), "cells": cells}
    options = {"options": {"continuity": True}} if continuity else {}
    add(name, {"procedure": "chi-square-independence", **options, "data": {"counts": counts}}, expected, expected["p"] <= mpf("0.05"))
    both = {"n": n, "p": exact}
    if r == c == 2:
        both |= conditional(cells, "both")
    exact_case(name, counts, both, "both")
    if r == c == 2:
        masses = hypergeometric(cells)
        for tail in ("left", "right"):
            a = cells[0][0]
            p = sum(m for k, m in masses.items() if (k <= a if tail == "left" else k >= a))
            exact_case(f"{name} {tail}", counts, {"p": p} | conditional(cells, tail), tail)


def exact_case(name, counts, expected, tail):
    cases.append({"name": name + " exactly", "problem": {"grund": 1, "alpha": 0.05, "tail": tail, "procedure": "exact-independence", "data": {"counts": counts}},
                  "expected": {k: None if v is None else mp.nstr(real(v) if isinstance(v, F) else mpf(v), 30) for k, v in expected.items()},
                  "reject": bool(real(F(expected["p"])) <= mpf("0.05")), "deciding": "p"})


def hypergeometric(cells):
    (a, b), (c, d) = cells
    n, row, column = a + b + c + d, a + b, a + c
    return {k: F(comb(column, k) * comb(n - column, row - k), comb(n, row)) for k in range(max(0, row + column - n), min(row, column) + 1)}


def conditional(cells, tail):
    masses, a = hypergeometric(cells), cells[0][0]
    least, greatest = min(masses), max(masses)
    real_masses = {k: real(m) for k, m in masses.items()}

    def share(x, keep):
        total = sum(m * exp(x * k) for k, m in real_masses.items())
        return sum(keep(k) * m * exp(x * k) for k, m in real_masses.items()) / total

    def solve(f):
        low, high = mpf(-60), mpf(60)
        for _ in range(260):
            middle = (low + high) / 2
            if f(middle) < 0:
                low = middle
            else:
                high = middle
        return exp(low)

    area = mpf("0.05") if tail != "both" else mpf("0.025")
    estimate = 0 if a == least else None if a == greatest else solve(lambda x: share(x, lambda k: k) - a)
    low = None if tail == "left" else 0 if a == least else solve(lambda x: share(x, lambda k: k >= a) - area)
    high = None if tail == "right" or a == greatest else solve(lambda x: area - share(x, lambda k: k <= a))
    return {"odds_ratio_conditional": estimate, "ci_low": low, "ci_high": high}


independence("two by two", [[20, 10], [15, 25]])
independence("corrected", [[20, 10], [15, 25]], True)
independence("correction larger than the difference", [[10, 10], [11, 10]], True)
independence("a cell of none", [[7, 0], [3, 6]])
independence("three by three", [[12, 5, 3], [4, 9, 2], [2, 3, 8]])
independence("two by four", [[9, 4, 7, 1], [2, 8, 3, 6]])
for k in range(6):
    independence(f"random {k}", [[random.randint(1, 7) for _ in range(3)] for _ in range(2 + k % 2)])
# So strong that the observed table is less likely under a ratio of 1 than a double can say.
strong = [[1000, 5], [5, 1000]]
masses = hypergeometric(strong)
exact_case("strong", {"rows": ["a", "b"], "columns": ["x", "y"], "cells": strong}, {"p": sum(m for m in masses.values() if m <= masses[1000])} | conditional(strong, "both"), "both")


def paired(name, cells, continuity=False):
    b, c = cells[0][1], cells[1][0]
    d = max(abs(b - c) - (1 if continuity else 0), 0)
    chi = F(d * d, b + c)
    masses = [F(comb(b + c, k), 2 ** (b + c)) for k in range(b + c + 1)]
    expected = {"chi_square": chi, "df": 1, "p": chi_upper(chi, 1), "p_exact": sum(m for m in masses if m <= masses[b]), "critical_high": chi_quantile(mpf("0.05"), 1)}
    options = {"options": {"continuity": True}} if continuity else {}
    add(name, {"procedure": "paired-proportions", **options, "data": {"counts": {"rows": ["yes", "no"], "columns": ["yes", "no"], "cells": cells}}}, expected, expected["p"] <= mpf("0.05"))


paired("pairs", [[30, 12], [5, 13]])
paired("pairs corrected", [[30, 12], [5, 13]], True)
paired("pairs alike", [[3, 6], [6, 2]], True)
paired("pairs one way", [[3, 9], [0, 2]])


def merge(bins, n, least):
    bins = [list(b) for b in bins]
    while len(bins) > 1:
        at = min(range(len(bins)), key=lambda i: bins[i][3])
        if n * bins[at][3] >= least:
            break
        neighbours = [i for i in (at - 1, at + 1) if 0 <= i < len(bins)]
        other = min(neighbours, key=lambda i: bins[i][3])
        low, high = sorted((at, other))
        bins[low] = [bins[low][0], bins[high][1], bins[low][2] + bins[high][2], bins[low][3] + bins[high][3], bins[low][4] + bins[high][4]]
        del bins[high]
    return bins


def distribution(name, kind, values, cdf, support, parameters, estimated, boundaries, options, whole=False, observed=None, least=5):
    """cdf(x) is P(X < x)."""
    counts = observed or [0] * (len(boundaries) - 1)
    for x in values or []:
        counts[max(0, min(len(counts) - 1, sum(1 for b in boundaries[1:-1] if b <= x)))] += 1
    n = sum(counts)
    ends = [support[0], *boundaries[1:-1], support[1]]
    areas = [mpf(0), *[cdf(b) for b in ends[1:-1]], mpf(1)]
    bins = merge([[ends[i], ends[i + 1], counts[i], areas[i + 1] - areas[i], 1] for i in range(len(counts))], n, least)
    parts = [(b[2] - n * b[3]) ** 2 / (n * b[3]) for b in bins]
    df = len(bins) - 1 - estimated
    chi = sum(parts)
    expected = {"n": n, "chi_square": chi, "df": df, "parameters_estimated": estimated, "p": gammainc(mpf(df) / 2, chi / 2, inf, regularized=True), "critical_high": chi_quantile(mpf("0.05"), df), **parameters}
    data = {"counts": {"boundaries": boundaries, "observed": observed}} if observed else {"variables": [{"name": "x", "kind": "number", "values": values}]}
    roles = {} if observed else {"roles": {"response": "x"}}
    add(name, {"procedure": "chi-square-distribution", "options": {"distribution": kind, **options}, "data": data, **roles}, expected, expected["p"] <= mpf("0.05"))
    cases[-1]["bins"] = [{"observed": b[2], "expected": mp.nstr(n * b[3], 25), "merged": b[4]} for b in bins]


def classes(values):
    wanted = ceil(1 + log2(len(values)))
    low, high = min(values), max(values)
    raw = (high - low) / wanted
    width = next(f * 10.0**e for e in range(-6, 7) for f in (1, 2, 2.5, 5) if f * 10.0**e >= raw * (1 - 1e-12))
    start = floor(low / width) * width
    out = [start]
    while out[-1] <= high:
        out.append(start + len(out) * width)
    return out


gaps = [round(random.expovariate(1 / 40), 1) for _ in range(90)]
mean = sum(F(str(x)) for x in gaps) / len(gaps)
distribution("exponential", "exponential", gaps, lambda x: 1 - exp(-real(1 / mean) * x), (0, inf), {"rate": 1 / mean}, 1, classes(gaps), {})
distribution("exponential given", "exponential", gaps, lambda x: 1 - exp(-mpf("0.025") * x), (0, inf), {"rate": mpf("0.025")}, 0, [0, 20, 40, 80, 120], {"parameters": {"rate": 0.025}, "boundaries": [0, 20, 40, 80, 120]})
times = [round(random.gauss(12, 2), 1) for _ in range(70)]
mean = sum(F(str(x)) for x in times) / len(times)
sd = sqrt(real(sum((F(str(x)) - mean) ** 2 for x in times) / (len(times) - 1)))
distribution("normal", "normal", times, lambda x: ncdf((mpf(x) - real(mean)) / sd), (-inf, inf), {"mean": mean, "sd": sd}, 2, classes(times), {})
distribution("normal, sd given", "normal", times, lambda x: ncdf((mpf(x) - real(mean)) / 2), (-inf, inf), {"mean": mean, "sd": 2}, 1, classes(times), {"parameters": {"sd": 2}})
sightings = [sum(random.random() < 0.02 for _ in range(75)) for _ in range(120)]
mean = F(sum(sightings), len(sightings))


def poisson(x):
    return sum(exp(-real(mean)) * real(mean) ** k / factorial(k) for k in range(ceil(x)))


distribution("Poisson", "poisson", sightings, poisson, (0, inf), {"mean": mean}, 1, classes(sightings), {})
days = [sum(random.random() < 0.3 for _ in range(10)) for _ in range(80)]
share = F(sum(days), 10 * len(days))


def binomial(x):
    return real(sum(comb(10, k) * share**k * (1 - share) ** (10 - k) for k in range(ceil(x))))


distribution("binomial", "binomial", days, binomial, (0, 10), {"probability": share, "trials": 10}, 1, list(range(0, 12)), {"parameters": {"trials": 10}, "boundaries": list(range(0, 12)), "min_expected": 3}, least=3)
distribution("uniform", "uniform", None, lambda x: mpf(x) / 60, (0, 60), {"min": 0, "max": 60}, 0, [0, 10, 20, 30, 40, 50, 60], {"parameters": {"min": 0, "max": 60}}, observed=[8, 14, 9, 12, 3, 14])
print(json.dumps(cases, indent=0))
