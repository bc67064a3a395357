"""Writes anova.json: problems for anova-one-way and rank-k-sample and what must come out.
Sums of squares, F and H are exact fractions; areas of t, F and chi-square are taken with
mpmath at 50 digits, those of the studentized range by the double sums of range.py.

    python3 anova.py > anova.json
"""

import json
import sys
from fractions import Fraction
from functools import cache
from pathlib import Path

import mpmath
from mpmath import mp, mpf, sqrt

import t_two_sample
import variance_ratio
from t_two_sample import real

sys.path.insert(0, str(Path(__file__).parents[3] / "internal" / "stats" / "dist" / "testdata"))
from range import lower  # noqa: E402

mp.dps = 50


@cache
def range_upper(q, k, df):
    """P(Q >= q), to 15 digits where it is not tiny."""
    before, mp.dps = mp.dps, 24
    try:
        return 1 - lower(mpf(q), k, mpf(df), 1 + mpf(k) / 60)
    finally:
        mp.dps = before


@cache
def range_quantile(area, k, df):
    """The q with P(Q >= q) = area, by the secant rule."""
    area = mpf(area)
    x0, x1 = mpf(3) + mpf(k) / 20, mpf(4) + mpf(k) / 20
    f0, f1 = (mpmath.log(range_upper(x, k, df) / area) for x in (x0, x1))
    while abs(x1 - x0) > mpf(10) ** -15:
        x0, x1, f0 = x1, x1 - f1 * (x1 - x0) / (f1 - f0), f1
        f1 = mpmath.log(range_upper(x1, k, df) / area)
        if abs(f1) < mpf(10) ** -16:
            break
    return x1


def two_tails(t, df):
    return 2 * t_two_sample.upper(abs(t), mpf(df))


def welch_df(a, b, n1, n2):
    return real((a + b) ** 2 / (a**2 / (n1 - 1) + b**2 / (n2 - 1)))


def moments(values):
    values = [Fraction(v) for v in values]
    n = len(values)
    mean = sum(values) / n
    return n, mean, sum((v - mean) ** 2 for v in values) / (n - 1) if n > 1 else None


def work(groups, equal, comparisons, reference, contrast, alpha, confidence):
    """What must come out for groups of (n, mean, variance)."""
    k, n = len(groups), sum(g[0] for g in groups)
    area = real(Fraction(alpha)) if confidence is None else 1 - mpf(str(confidence))
    grand = sum(m * c for c, m, _ in groups) / n
    between = sum(c * (m - grand) ** 2 for c, m, _ in groups)
    within = sum((c - 1) * v for c, _, v in groups if v is not None)
    df_b, df_w = k - 1, n - k
    msw = within / df_w
    out = {"ss_between": between, "ss_within": within, "ss_total": between + within, "df_between": df_b, "ms_between": between / df_b, "ms_within": msw,
           "eta_squared": between / (between + within), "omega_squared": max(Fraction(0), (between - df_b * msw) / (between + within + msw)), "n": n, "mean": grand}
    if equal:
        f, df2 = real((between / df_b) / msw), mpf(df_w)
    else:
        w = [c / v for c, _, v in groups]
        total = sum(w)
        centre = sum(x * m for x, (_, m, _) in zip(w, groups)) / total
        top = sum(x * (m - centre) ** 2 for x, (_, m, _) in zip(w, groups)) / df_b
        rest = sum((1 - x / total) ** 2 / (c - 1) for x, (c, _, _) in zip(w, groups))
        f, df2 = real(top / (1 + Fraction(2 * (k - 2), k * k - 1) * rest)), real(Fraction(k * k - 1, 3) / rest)
    out |= {"f": f, "df_within": df2, "p": variance_ratio.upper(f, df_b, df2) if f > 0 else mpf(1), "critical_high": variance_ratio.quantile(real(Fraction(alpha)), df_b, df2)}
    for i, (c, m, v) in enumerate(groups):
        key = f"groups/g{i}/"
        out |= {key + "n": c, key + "mean": m}
        if v is not None:
            out |= {key + "sd": sqrt(real(v)), key + "variance": v, key + "se": sqrt(real(v / c))}
        reach = t_two_sample.quantile(area / 2, mpf(df_w)) * sqrt(real(msw / c)) if equal else t_two_sample.quantile(area / 2, mpf(c - 1)) * sqrt(real(v / c))
        out |= {key + "ci_low": real(m) - reach, key + "ci_high": real(m) + reach}

    def pair(i, j):
        (n1, m1, v1), (n2, m2, v2) = groups[i], groups[j]
        if equal:
            se2, df = msw * (Fraction(1, n1) + Fraction(1, n2)), mpf(df_w)
        else:
            se2, df = v1 / n1 + v2 / n2, welch_df(v1 / n1, v2 / n2, n1, n2)
        return real(m1 - m2), sqrt(real(se2)), df

    pairs = [(i, j) for i in range(k) for j in range(i + 1, k)] if comparisons != "none" else []
    raw = {}
    for i, j in pairs:
        d, se, df = pair(i, j)
        key = f"comparisons/g{i}|g{j}/"
        out |= {key + "difference": d, key + "se": se}
        if comparisons == "tukey":
            out[key + "p"] = range_upper(abs(d) / se * sqrt(mpf(2)), k, df)
            reach = range_quantile(area, k, df) / sqrt(mpf(2)) * se
            out |= {key + "ci_low": d - reach, key + "ci_high": d + reach}
        elif comparisons == "bonferroni":
            out[key + "p"] = min(mpf(1), len(pairs) * two_tails(d / se, df))
            reach = t_two_sample.quantile(area / len(pairs) / 2, df) * se
            out |= {key + "ci_low": d - reach, key + "ci_high": d + reach}
        else:
            raw[key] = two_tails(d / se, df)
            out |= {key + "ci_low": None, key + "ci_high": None}
    floor = mpf(0)
    for i, key in enumerate(sorted(raw, key=raw.get)):
        floor = out[key + "p"] = max(floor, min(mpf(1), (len(raw) - i) * raw[key]))
    for i in range(k):
        if i != reference:
            d, se, df = pair(i, reference)
            reach = t_two_sample.quantile(area / 2, df) * se
            key = f"effects/g{i}/"
            out |= {key + "difference": d, key + "se": se, key + "t": d / se, key + "p": two_tails(d / se, df), key + "ci_low": d - reach, key + "ci_high": d + reach}
    if contrast:
        weights = [Fraction(x) for x in contrast["weights"]]
        estimate = sum(x * m for x, (_, m, _) in zip(weights, groups))
        if equal:
            se, df = sqrt(real(msw * sum(x * x / Fraction(c) for x, (c, _, _) in zip(weights, groups)))), mpf(df_w)
        else:
            parts = [(x * x * v / c, c) for x, (c, _, v) in zip(weights, groups) if x]
            se, df = sqrt(real(sum(a for a, _ in parts))), real(sum(a for a, _ in parts) ** 2 / sum(a * a / (c - 1) for a, c in parts))
        t = real(estimate) / se
        up = t_two_sample.upper(t, df)
        out |= {"contrast": estimate, "se_contrast": se, "t_contrast": t, "p_contrast": {"both": two_tails(t, df), "right": up, "left": 1 - up}[contrast.get("tail", "both")]}
    return out


def main():
    cases = []

    def put(name, problem, out, alpha):
        text = {k: None if v is None else mp.nstr(real(v) if isinstance(v, Fraction) else mpf(v), 30) for k, v in out.items()}
        cases.append({"name": name, "problem": problem, "expected": text, "reject": bool(out["p"] <= real(Fraction(alpha)))})

    def add(name, groups, equal=True, comparisons="tukey", reference=0, contrast=None, alpha=0.05, confidence=None, summary=False):
        print(name, file=sys.stderr, flush=True)
        options = {"comparisons": comparisons, "variances": "equal" if equal else "unequal"}
        if reference:
            options["reference"] = f"g{reference}"
        if contrast:
            options["contrast"] = contrast
        problem = {"grund": 1, "procedure": "anova-one-way", "alpha": alpha, "options": options}
        if confidence is not None:
            problem["confidence"] = confidence
        if summary:
            of = [(c, Fraction(m), Fraction(s) ** 2 if s is not None else None) for c, m, s in groups]
            problem["data"] = {"summary": {"groups": [{"label": f"g{i}", "n": c, "mean": m} | ({"sd": s} if s is not None else {}) for i, (c, m, s) in enumerate(groups)]}}
        else:
            of = [moments(g) for g in groups]
            problem |= {"roles": {"response": "x", "group": "g"}, "data": {"variables": [
                {"name": "g", "kind": "category", "values": [f"g{i}" for i, g in enumerate(groups) for _ in g]},
                {"name": "x", "kind": "number", "values": [v for g in groups for v in g]}]}}
        put(name, problem, work(of, equal, comparisons, reference, contrast, alpha, confidence), alpha)

    def ranks(name, groups, alpha=0.05):
        values = sorted(Fraction(v) for g in groups for v in g)
        n = len(values)
        first = {v: i for i, v in reversed(list(enumerate(values)))}
        last = {v: i for i, v in enumerate(values)}
        rank = {v: Fraction(first[v] + last[v] + 2, 2) for v in first}
        ties = sum((last[v] - first[v] + 1) ** 3 - (last[v] - first[v] + 1) for v in first)
        means = [sum(rank[Fraction(v)] for v in g) / len(g) for g in groups]
        corrects = 1 - Fraction(ties, n**3 - n)
        h = Fraction(12, n * (n + 1)) * sum(len(g) * (m - Fraction(n + 1, 2)) ** 2 for g, m in zip(groups, means)) / corrects
        df = len(groups) - 1
        chi = lambda x: mpmath.gammainc(mpf(df) / 2, x / 2, mpmath.inf, regularized=True)
        out = {"n": n, "h": h, "df": df, "p": chi(real(h)), "critical_high": mpmath.findroot(lambda x: chi(x) - real(Fraction(alpha)), (df, 3 * df + 4), solver="anderson", tol=1e-60)}
        raw = {}
        for i in range(len(groups)):
            for j in range(i + 1, len(groups)):
                variance = (Fraction(n * (n + 1), 12) - Fraction(ties, 12 * (n - 1))) * (Fraction(1, len(groups[i])) + Fraction(1, len(groups[j])))
                z = real(means[i] - means[j]) / sqrt(real(variance))
                out |= {f"comparisons/g{i}|g{j}/difference": means[i] - means[j], f"comparisons/g{i}|g{j}/z": z}
                raw[f"comparisons/g{i}|g{j}/p"] = 2 * mpmath.ncdf(-abs(z))
        floor = mpf(0)
        for i, key in enumerate(sorted(raw, key=raw.get)):
            floor = out[key] = max(floor, min(mpf(1), (len(raw) - i) * raw[key]))
        put(f"ranks: {name}", {"grund": 1, "procedure": "rank-k-sample", "alpha": alpha, "roles": {"response": "x", "group": "g"}, "data": {"variables": [
            {"name": "g", "kind": "category", "values": [f"g{i}" for i, g in enumerate(groups) for _ in g]},
            {"name": "x", "kind": "number", "values": [v for g in groups for v in g]}]}}, out, alpha)

    piers = [[10.1, 10.5, 7.6, 7.5, 8.4, 9.9, 7.1], [9.5, 10.5, 9.8, 9.3, 8.9], [13.4, 11.6, 9.8, 13.3, 11.1, 12.7], [8.1, 8.5, 9.8, 7.7]]
    like = [[10.1, 10.5, 7.6, 7.5], [9.5, 10.9, 8.8, 9.3, 8.9], [9.4, 11.6, 9.8]]
    offset = [[1e9 + x / 64 for x in (1, 3, 4, 8, 2, 30)], [1e9 + x / 64 for x in (9, 4, 7, 11, 10, 6)], [1e9 + 0.1, 1e9 + 0.7, 1e9 - 0.3]]
    summary = [(14, 8.4, 1.45), (11, 9.1, 1.2), (12, 10.9, 1.6), (9, 9.5, 1.1)]
    planned = {"weights": [-0.5, -0.5, 1, 0], "tail": "right"}
    for equal in (True, False):
        form = "pooled" if equal else "apart"
        add(f"piers, {form}", piers, equal, contrast=planned)
        add(f"piers, Holm, {form}", piers, equal, "holm", 2, {"weights": [1, -1, 0, 0], "tail": "left"}, 0.01)
        add(f"piers, Bonferroni, {form}", piers, equal, "bonferroni", 1, {"weights": [3, -1, -1, -1]}, confidence=0.9)
        add(f"piers, none, {form}", piers, equal, "none")
        add(f"alike, {form}", like, equal, "holm")
        add(f"offset, {form}", offset, equal, "bonferroni")
        add(f"summary, {form}", summary, equal, "holm", contrast={"weights": [0.25, 0.25, -0.75, 0.25]}, summary=True)
        add(f"two groups, {form}", [piers[0], piers[2]], equal, "tukey", 1)
        add(f"tiny p, {form}", [[float(i % 7) for i in range(60)], [30.0 + i % 5 for i in range(45)], [15.0 + i % 3 for i in range(50)]], equal, "holm")
    add("a group of one", [piers[0], [11.2], piers[3]], comparisons="holm")
    add("a summary with a group of one", [(5, 8.25, 1.5), (1, 11.0, None), (4, 9.5, 0.75)], comparisons="bonferroni", summary=True)
    add("alike, Tukey", like, confidence=0.9)
    many = [[round(10 + ((i * 37 + j * 101) % 59) / 10 + i * 0.3, 1) for j in range(4 + i % 3)] for i in range(12)]
    add("twelve groups", many, comparisons="bonferroni", reference=11)
    ranks("piers", piers)
    ranks("ties", [[1, 2, 2, 4], [2, 4, 4, 9, 9], [1, 9, 9]])
    ranks("alike", like, 0.1)
    ranks("two groups", [[1.5, 2.5, 9], [3, 4, 5, 6]])
    ranks("twelve groups", many)
    json.dump(cases, sys.stdout, indent=1)


if __name__ == "__main__":
    main()
