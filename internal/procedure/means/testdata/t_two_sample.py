"""Writes t_two_sample.json: problems for t-two-sample and what must come out.

Means, variances and statistics are exact fractions of the decimals as doubles;
areas and quantiles are taken with mpmath at 60 digits. Nothing of Grund takes part.

    python3 t_two_sample.py > t_two_sample.json
"""

import json
from fractions import Fraction

from mpmath import betainc, findroot, mp, mpf, sqrt

mp.dps = 60


def exact(x):
    return x if isinstance(x, Fraction) else Fraction(x)


def real(fraction):
    return mpf(fraction.numerator) / mpf(fraction.denominator)


def upper(t, df):
    """P(T >= t)."""
    half = betainc(df / 2, mpf(1) / 2, 0, df / (df + t * t), regularized=True) / 2
    return half if t >= 0 else 1 - half


def quantile(area, df):
    """The t with P(T >= t) = area."""
    if area > mpf(1) / 2:
        return -quantile(1 - area, df)
    low, high = mpf(0), mpf(1)
    while upper(high, df) > area:
        high *= 2
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (middle, high) if upper(middle, df) > area else (low, middle)
    return findroot(lambda t: upper(t, df) - area, (low + high) / 2)


def moments(values):
    values = [Fraction(v) for v in values]
    n = len(values)
    mean = sum(values) / n
    return n, mean, sum((v - mean) ** 2 for v in values) / (n - 1)


def work(first, second, pooled, difference0, tail, alpha, confidence):
    (n1, m1, v1), (n2, m2, v2) = first, second
    difference, d0 = m1 - m2, Fraction(difference0)
    out = {"n_1": n1, "n_2": n2, "mean_1": real(m1), "mean_2": real(m2), "sd_1": sqrt(real(v1)), "sd_2": sqrt(real(v2)), "difference": real(difference)}
    if pooled:
        df = Fraction(n1 + n2 - 2)
        sp2 = ((n1 - 1) * v1 + (n2 - 1) * v2) / df
        out["pooled_sd"] = sqrt(real(sp2))
        se2, d2 = sp2 * (Fraction(1, n1) + Fraction(1, n2)), sp2
    else:
        a, b = v1 / n1, v2 / n2
        se2, d2 = a + b, (v1 + v2) / 2
        df = se2**2 / (a**2 / (n1 - 1) + b**2 / (n2 - 1))
    df, se = real(df), sqrt(real(se2))
    t = real(difference - d0) / se
    out |= {"se": se, "df": df, "t": t, "cohen_d": real(difference) / sqrt(real(d2))}
    alpha, level = mpf(Fraction(alpha).numerator) / Fraction(alpha).denominator, None
    outside = alpha if confidence is None else 1 - real(Fraction(confidence))
    if tail == "both":
        out["p"] = 2 * upper(abs(t), df)
        out["critical_high"] = quantile(alpha / 2, df)
        out["critical_low"] = -out["critical_high"]
        reach = quantile(outside / 2, df) * se
        out["ci_low"], out["ci_high"] = real(difference) - reach, real(difference) + reach
    else:
        out["p"] = upper(t, df) if tail == "right" else upper(-t, df)
        reach = quantile(outside, df) * se
        if tail == "right":
            out |= {"critical_high": quantile(alpha, df), "ci_low": real(difference) - reach, "ci_high": None}
        else:
            out |= {"critical_low": -quantile(alpha, df), "ci_low": None, "ci_high": real(difference) + reach}
    return {key: None if value is None else mp.nstr(mpf(value), 30) for key, value in out.items()}, bool(out["p"] <= alpha)


def main():
    mole = [10.8, 11.1, 11.8, 11.9, 12.0, 12.1, 12.3, 12.3, 12.5, 12.5, 12.8, 12.8, 12.8, 13.0, 13.0, 13.0, 13.0, 13.2]
    quarry = [10.1, 11.0, 11.1, 11.2, 12.0, 13.1, 13.4, 13.7, 14.2, 14.3, 14.8, 15.3, 15.8, 16.7, 16.8]
    offset = [1e9 + x / 64 for x in (1, 3, 4, 8, 2)], [1e9 + x / 64 for x in (9, 4, 7, 11, 10, 6)]
    tiny_p = [float(i % 7) for i in range(60)], [1000.0 + i % 5 for i in range(45)]
    cases = []

    def add(name, groups, pooled=False, difference=0, tail="both", alpha=0.05, confidence=None, summary=False):
        options = {"variances": "equal" if pooled else "unequal", "difference": difference}
        problem = {"grund": 1, "procedure": "t-two-sample", "alpha": alpha, "tail": tail, "options": options}
        if confidence is not None:
            problem["confidence"] = confidence
        if summary:
            parts = [(n, Fraction(m), Fraction(s) ** 2) for n, m, s in groups]
            problem["data"] = {"summary": {"groups": [{"label": l, "n": n, "mean": m, "sd": s} for l, (n, m, s) in zip("ab", groups)]}}
        else:
            parts = [moments(g) for g in groups]
            problem["roles"] = {"response": "x", "group": "g"}
            problem["data"] = {"variables": [
                {"name": "g", "kind": "category", "values": ["a"] * len(groups[0]) + ["b"] * len(groups[1])},
                {"name": "x", "kind": "number", "values": list(groups[0]) + list(groups[1])}]}
        expected, reject = work(*parts, pooled, difference, tail, alpha, confidence)
        cases.append({"name": name, "problem": problem, "expected": expected, "reject": reject})

    for pooled in (False, True):
        for tail in ("both", "left", "right"):
            for alpha in (0.05, 0.01):
                add(f"berths {pooled} {tail} {alpha}", (mole, quarry), pooled, tail=tail, alpha=alpha)
    add("berths, difference −2", (mole, quarry), difference=-2)
    add("berths, difference 0.25, pooled, right", (mole, quarry), True, 0.25, "right", 0.1)
    add("berths, confidence 0.9", (mole, quarry), confidence=0.9)
    add("berths, left, confidence 0.99", (mole, quarry), tail="left", confidence=0.99)
    add("berths, right, confidence 0.8", (mole, quarry), True, tail="right", confidence=0.8)
    add("berths, alpha 0.9", (mole, quarry), alpha=0.9)
    add("berths, alpha 0.9, right", (mole, quarry), tail="right", alpha=0.9)
    add("berths, alpha 1e-12", (mole, quarry), alpha=1e-12)
    add("large offset", offset)
    add("large offset, pooled", offset, True)
    add("tiny p", tiny_p)
    add("tiny p, pooled, left", tiny_p, True, tail="left")
    add("two and two", ([1.5, 2.5], [4.0, 4.5]))
    add("one constant group", ([3.0, 3.0, 3.0], [1.0, 4.0, 9.0]))
    add("summary", ((18, 12.38, 0.67), (15, 13.57, 2.13)), summary=True)
    add("summary, pooled, left", ((18, 12.38, 0.67), (15, 13.57, 2.13)), True, tail="left", summary=True)
    add("summary of many", ((40000, 10.0, 3.0), (60000, 10.1, 4.0)), summary=True)
    add("summary, one sd zero", ((5, 2.0, 0.0), (9, 2.5, 1.25)), summary=True)
    print(json.dumps(cases, indent=1))


if __name__ == "__main__":
    main()
