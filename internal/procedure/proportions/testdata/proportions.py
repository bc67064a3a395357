"""Writes proportions.json: problems for proportion-one and proportion-two and what
must come out. Exact p-values are sums of fractions; areas and quantiles are taken
with mpmath at 60 digits.

    python3 proportions.py > proportions.json
"""

import json
import sys
from fractions import Fraction
from math import comb

from mpmath import betainc, mp, mpf, sqrt

from one_mean import z_quantile, z_upper
from t_two_sample import real


def z_tests(out, z, tail, alpha):
    if tail == "both":
        out |= {"p": 2 * z_upper(abs(z)), "critical_high": z_quantile(alpha / 2), "critical_low": -z_quantile(alpha / 2)}
    elif tail == "right":
        out |= {"p": z_upper(z), "critical_high": z_quantile(alpha)}
    else:
        out |= {"p": z_upper(-z), "critical_low": -z_quantile(alpha)}


def tails(masses, observed, tail):
    """The exact p-value of the observed number under masses by number."""
    if tail == "left":
        return sum(m for k, m in masses.items() if k <= observed)
    if tail == "right":
        return sum(m for k, m in masses.items() if k >= observed)
    return sum(m for m in masses.values() if m <= masses[observed])


def corrected(distance, half, tail):
    """Half a step toward 0 for two tails; else the half step that the tail's sum of probabilities takes in."""
    if tail == "left":
        return distance + half
    if tail == "right":
        return distance - half
    return max(Fraction(0), abs(distance) - half) * (1 if distance > 0 else -1)


def clopper(x, n, area):
    def root(f):
        low, high = mpf(0), mpf(1)
        for _ in range(160):
            middle = (low + high) / 2
            low, high = (middle, high) if f(middle) < 0 else (low, middle)
        return low

    low = mpf(0) if x == 0 else root(lambda p: betainc(x, n - x + 1, 0, p, regularized=True) - area)
    high = mpf(1) if x == n else root(lambda p: betainc(x + 1, n - x, 0, p, regularized=True) - (1 - area))
    return low, high


def ends(out, low, high, tail, names=("ci_low", "ci_high")):
    out[names[0]] = None if tail == "left" else low
    out[names[1]] = None if tail == "right" else high


def main():
    cases = []

    def put(name, problem, out, alpha):
        expected = {key: None if value is None else mp.nstr(mpf(value), 30) for key, value in out.items()}
        cases.append({"name": name, "problem": problem, "expected": expected, "reject": bool(out["p"] <= real(Fraction(alpha)))})

    def one(name, x, n, p0, tail="both", alpha=0.05, confidence=None, continuity=False, raw=False):
        exact = Fraction(str(p0))
        a = real(Fraction(alpha))
        outside = a if confidence is None else 1 - real(Fraction(confidence))
        area = outside / 2 if tail == "both" else outside
        distance = Fraction(x, n) - exact
        if continuity:
            distance = corrected(distance, Fraction(1, 2 * n), tail)
        se = sqrt(real(exact * (1 - exact) / n))
        z = real(distance) / se
        out = {"n": n, "successes": x, "proportion": real(Fraction(x, n)), "se": se, "z": z}
        z_tests(out, z, tail, a)
        masses = {k: comb(n, k) * exact**k * (1 - exact) ** (n - k) for k in range(n + 1)}
        out["p_exact"] = real(tails(masses, x, tail))
        q = z_quantile(area)
        centre, reach = x + q * q / 2, q * sqrt(mpf(x) * (n - x) / n + q * q / 4)
        ends(out, (centre - reach) / (n + q * q), (centre + reach) / (n + q * q), tail)
        ends(out, *clopper(x, n, area), tail, ("exact_low", "exact_high"))
        problem = {"grund": 1, "procedure": "proportion-one", "alpha": alpha, "tail": tail, "options": {"proportion": p0, "continuity": continuity}}
        if confidence is not None:
            problem["confidence"] = confidence
        if raw:
            problem["roles"] = {"response": "r"}
            problem["options"]["success"] = "yes"
            problem["data"] = {"variables": [{"name": "r", "kind": "category", "values": ["yes"] * x + [None] + ["no"] * (n - x)}]}
        else:
            problem["data"] = {"counts": {"categories": ["yes", "no"], "observed": [x, n - x]}}
        put(name, problem, out, alpha)

    def two(name, x1, n1, x2, n2, tail="both", alpha=0.05, confidence=None, continuity=False, raw=False):
        a = real(Fraction(alpha))
        outside = a if confidence is None else 1 - real(Fraction(confidence))
        p1, p2, pooled = Fraction(x1, n1), Fraction(x2, n2), Fraction(x1 + x2, n1 + n2)
        step = (Fraction(1, n1) + Fraction(1, n2)) / 2
        distance = corrected(p1 - p2, step, tail) if continuity else p1 - p2
        two_sided = corrected(p1 - p2, step, "both") if continuity else p1 - p2
        se = sqrt(real(pooled * (1 - pooled) * 2 * step))
        z = real(distance) / se
        out = {"proportion_1": real(p1), "proportion_2": real(p2), "pooled_proportion": real(pooled), "difference": real(p1 - p2), "z": z, "chi_square": real(two_sided) ** 2 / se**2}
        if x2:
            out["ratio"] = real(p1 / p2)
        z_tests(out, z, tail, a)
        total = comb(n1 + n2, n1)
        masses = {k: Fraction(comb(x1 + x2, k) * comb(n1 + n2 - x1 - x2, n1 - k), total) for k in range(max(0, n1 - (n1 + n2 - x1 - x2)), min(n1, x1 + x2) + 1)}
        out["p_exact"] = real(tails(masses, x1, tail))
        reach = z_quantile(outside / 2 if tail == "both" else outside) * sqrt(real(p1 * (1 - p1) / n1 + p2 * (1 - p2) / n2))
        if continuity:
            reach += real(step)
        ends(out, real(p1 - p2) - reach, real(p1 - p2) + reach, tail)
        problem = {"grund": 1, "procedure": "proportion-two", "alpha": alpha, "tail": tail, "options": {"continuity": continuity}}
        if confidence is not None:
            problem["confidence"] = confidence
        if raw:
            problem["roles"] = {"response": "r", "group": "g"}
            problem["options"]["success"] = "yes"
            problem["data"] = {"variables": [
                {"name": "r", "kind": "category", "values": ["yes"] * x1 + ["no"] * (n1 - x1) + [None] + ["yes"] * x2 + ["no"] * (n2 - x2)},
                {"name": "g", "kind": "category", "values": ["a"] * (n1 + 1) + ["b"] * n2}]}
        else:
            problem["data"] = {"counts": {"rows": ["a", "b"], "columns": ["yes", "no"], "cells": [[x1, n1 - x1], [x2, n2 - x2]]}}
        put(name, problem, out, alpha)

    for tail in ("both", "left", "right"):
        for continuity in (False, True):
            one(f"riders {tail} {continuity}", 175, 227, 0.8, tail, continuity=continuity)
            one(f"few {tail} {continuity}", 7, 11, 0.25, tail, continuity=continuity, raw=True)
            two(f"riders {tail} {continuity}", 84, 119, 91, 108, tail, continuity=continuity)
            two(f"few {tail} {continuity}", 3, 9, 7, 8, tail, continuity=continuity, raw=True)
    one("no success", 0, 12, 0.3)
    one("only successes", 12, 12, 0.3)
    one("a tie of probabilities", 0, 4, 0.2)
    one("a tie at one half", 3, 10, 0.5)
    one("just what H0 states", 5, 10, 0.5, continuity=True)
    for tail in ("left", "right"):
        one(f"just what H0 states, {tail}", 5, 10, 0.5, tail, continuity=True)
        two(f"equal, {tail}", 5, 20, 10, 40, tail, continuity=True)
    one("correction beyond the distance", 5, 9, 0.5, continuity=True)
    one("tiny p", 950, 1000, 0.5)
    one("confidence 0.9, alpha 0.01", 30, 50, 0.5, alpha=0.01, confidence=0.9)
    two("tiny p", 900, 1000, 300, 1000)
    two("no success in one", 5, 20, 0, 20)
    two("equal", 5, 20, 10, 40, continuity=True)
    two("confidence 0.9, right", 30, 50, 20, 50, "right", confidence=0.9)
    json.dump(cases, sys.stdout, indent=1)


if __name__ == "__main__":
    main()
