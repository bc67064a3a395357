"""Writes one_mean.json: problems for z-one-sample, t-one-sample and t-paired, and
what must come out. Made as t_two_sample.json is, with the same exact moments and
60-digit areas.

    python3 one_mean.py > one_mean.json
"""

import json
from fractions import Fraction

from mpmath import erfc, findroot, mp, mpf, sqrt

from t_two_sample import moments, quantile, real, upper


def z_upper(z):
    return erfc(z / sqrt(mpf(2))) / 2


def z_quantile(area):
    low, high = mpf(-40), mpf(40)
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if z_upper(middle) > area else (low, middle)
    return findroot(lambda z: z_upper(z) - area, (low + high) / 2)


def work(n, mean, variance, null, sigma, tail, alpha, confidence, names):
    if sigma is None:
        df = mpf(n - 1)
        se = sqrt(real(variance / n))
        above, at = (lambda t: upper(t, df)), (lambda area: quantile(area, df))
    else:
        se = mpf(sigma) / sqrt(mpf(n))
        above, at = z_upper, z_quantile
    m = real(mean)
    statistic = real(mean - Fraction(null)) / se
    out = {"n": n, names[0]: m, "se": se, "z" if sigma else "t": statistic}
    if sigma is None:
        out |= {names[1]: sqrt(real(variance)), "df": df, "cohen_d": real(mean - Fraction(null)) / sqrt(real(variance))}
    alpha_exact = real(Fraction(alpha))
    outside = alpha_exact if confidence is None else 1 - real(Fraction(confidence))
    if tail == "both":
        out["p"] = 2 * above(abs(statistic))
        out["critical_high"] = at(alpha_exact / 2)
        out["critical_low"] = -out["critical_high"]
        reach = at(outside / 2) * se
        out["ci_low"], out["ci_high"] = m - reach, m + reach
    else:
        out["p"] = above(statistic) if tail == "right" else above(-statistic)
        reach = at(outside) * se
        if tail == "right":
            out |= {"critical_high": at(alpha_exact), "ci_low": m - reach, "ci_high": None}
        else:
            out |= {"critical_low": -at(alpha_exact), "ci_low": None, "ci_high": m + reach}
    return {key: None if value is None else mp.nstr(mpf(value), 30) for key, value in out.items()}, bool(out["p"] <= alpha_exact)


def main():
    fuel = [40.1, 39.2, 41.3, 38.8, 40.9, None, 39.9, 40.4, 41.0, 38.5]
    home = [40.3, 39.9, 41.2, 39.4, 41.2, 40.0, 40.4, None, 40.8, 39.1]
    offset = [1e9 + x / 64 for x in (1, 3, 4, 8, 2)]
    far = [1000.0 + i % 5 for i in range(60)]
    cases = []

    def add(name, procedure, values, null=0, sigma=None, tail="both", alpha=0.05, confidence=None, second=None, summary=None, leave_out=()):
        option = "difference" if procedure == "t-paired" else "mean"
        options = {option: null}
        if sigma is not None:
            options["sigma"] = sigma
        problem = {"grund": 1, "procedure": procedure, "alpha": alpha, "tail": tail, "options": options}
        if confidence is not None:
            problem["confidence"] = confidence
        if leave_out:
            problem["leave_out"] = [{"case": case} for case in leave_out]
        kept = [i for i in range(len(values)) if i + 1 not in leave_out]
        if summary:
            n, mean, sd = summary
            parts = (n, Fraction(mean), None if sd is None else Fraction(sd) ** 2)
            group = {"n": n, "mean": mean} | ({} if sd is None else {"sd": sd})
            problem["data"] = {"summary": {"groups": [group]}}
        elif second:
            parts = moments([Fraction(values[i]) - Fraction(second[i]) for i in kept if values[i] is not None and second[i] is not None])
            problem["roles"] = {"first": "a", "second": "b"}
            problem["data"] = {"variables": [{"name": "a", "kind": "number", "values": values}, {"name": "b", "kind": "number", "values": second}]}
        else:
            there = [values[i] for i in kept if values[i] is not None]
            parts = moments(there) if len(there) > 1 else (1, Fraction(there[0]), None)
            problem["roles"] = {"response": "x"}
            problem["data"] = {"variables": [{"name": "x", "kind": "number", "values": values}]}
        names = ("mean_difference", "sd_difference") if second else ("mean", "sd")
        expected, reject = work(*parts, null, sigma, tail, alpha, confidence, names)
        cases.append({"name": name, "problem": problem, "expected": expected, "reject": reject})

    for tail in ("both", "left", "right"):
        for alpha in (0.05, 0.01):
            add(f"fuel, t {tail} {alpha}", "t-one-sample", fuel, 41, tail=tail, alpha=alpha)
            add(f"fuel, z {tail} {alpha}", "z-one-sample", fuel, 41, 1.25, tail=tail, alpha=alpha)
            add(f"out and back {tail} {alpha}", "t-paired", fuel, tail=tail, alpha=alpha, second=home)
    for procedure, sigma in (("t-one-sample", None), ("z-one-sample", 0.03)):
        add(f"offset, {procedure}", procedure, offset, 1e9, sigma)
        add(f"confidence 0.9, {procedure}", procedure, fuel, 40, sigma, confidence=0.9)
        add(f"left, confidence 0.99, {procedure}", procedure, fuel, 40, sigma, tail="left", confidence=0.99)
        add(f"right, confidence 0.8, {procedure}", procedure, fuel, 40, sigma, tail="right", confidence=0.8)
        add(f"alpha 0.9, right, {procedure}", procedure, fuel, 40, sigma, tail="right", alpha=0.9)
        add(f"two left out, {procedure}", procedure, fuel, 40, sigma, leave_out=(2, 6))
        add(f"summary, {procedure}", procedure, [], 12.5, sigma and 2.0, summary=(18, 12.38, 0.67))
    add("tiny p", "t-one-sample", far)
    add("tiny p, z", "z-one-sample", far, 1000, 0.5)
    add("summary without sd", "z-one-sample", [], 12.5, 0.8, summary=(18, 12.38, None))
    add("one case", "z-one-sample", [3.5], 3, 0.25)
    add("a difference under H0", "t-paired", fuel, -0.5, second=home)
    add("negative mean", "t-one-sample", [-3.5, -2.25, -4.0, -3.75], -3)
    json.dump(cases, __import__("sys").stdout, indent=1)


if __name__ == "__main__":
    main()
