"""Writes power.json: problems with what is stated to be true, the power of the present
sample, and the number of cases that a power needs.

Noncentral t by Lenth's series, its central quantile by bisection, binomial probabilities
from their definition; all with mpmath at 30 digits. The needed number of cases is found by
going through all of them.

    python3 power.py > power.json
"""

import json

from mpmath import betainc, binomial, erfc, erfinv, exp, factorial, findroot, gamma, mp, mpf, sqrt

mp.dps = 30


def phi(z):
    return erfc(-z / sqrt(mpf(2))) / 2


def z_upper(p):
    return sqrt(mpf(2)) * erfinv(1 - 2 * mpf(p))


def t_lower(t, nu, delta):
    if t < 0:
        return 1 - t_lower(-t, nu, -delta)
    x = t * t / (nu + t * t)
    half = delta * delta / 2
    total, j = mpf(0), 0
    while True:
        p = exp(-half) * half**j / factorial(j)
        q = delta / sqrt(mpf(2)) * exp(-half) * half**j / gamma(j + mpf(3) / 2)
        term = p * betainc(j + mpf(1) / 2, nu / 2, 0, x, regularized=True) + q * betainc(j + 1, nu / 2, 0, x, regularized=True)
        total += term
        if j > half + 10 and abs(term) < mpf(10) ** -22:
            return phi(-delta) + total / 2
        j += 1


def t_upper_quantile(p, nu):
    p = mpf(p)
    return findroot(lambda t: 1 - t_lower(t, nu, mpf(0)) - p, (z_upper(p) * (1 + 1 / nu), z_upper(p) * (1 + 3 / nu) + 1), solver="anderson", tol=1e-24)


def region(tail, alpha, quantile):
    if tail == "left":
        return -quantile(alpha), None
    if tail == "right":
        return None, quantile(alpha)
    c = quantile(mpf(alpha) / 2)
    return -c, c


def power_t(nu, delta, tail, alpha):
    low, high = region(tail, alpha, lambda p: t_upper_quantile(p, nu))
    power = mpf(0)
    if low is not None:
        power += t_lower(low, nu, delta)
    if high is not None:
        power += 1 - t_lower(high, nu, delta)
    return power


def one_mean(n, truth, null, sd, tail, alpha):
    return power_t(mpf(n - 1), (mpf(truth) - mpf(null)) / mpf(sd) * sqrt(mpf(n)), tail, alpha)


def share(n, n1, n2):
    first = min(max(int(mpf(n) * n1 / (n1 + n2) + mpf(1) / 2), 2), n - 2)
    return first, n - first


def two_means(n, n1, n2, truth, null, sd1, sd2, pooled, tail, alpha):
    a, b = share(n, n1, n2)
    v1, v2 = mpf(sd1) ** 2 / a, mpf(sd2) ** 2 / b
    nu = mpf(a + b - 2) if pooled else (v1 + v2) ** 2 / (v1**2 / (a - 1) + v2**2 / (b - 1))
    if pooled:
        common = (mpf(sd1) ** 2 * (a - 1) + mpf(sd2) ** 2 * (b - 1)) / (a + b - 2)
        v1, v2 = common / a, common / b
    return power_t(nu, (mpf(truth) - mpf(null)) / sqrt(v1 + v2), tail, alpha)


def one_proportion(n, p0, p, tail, alpha, correction=0):
    low, high = region(tail, alpha, z_upper)
    p0, p = mpf(p0), mpf(p)
    total = mpf(0)
    for k in range(n + 1):
        d = k - n * p0
        d = max(abs(d) - correction, 0) * (1 if d > 0 else -1)
        z = d / sqrt(n * p0 * (1 - p0))
        if low is not None and z <= low or high is not None and z >= high:
            total += binomial(n, k) * p**k * (1 - p) ** (n - k)
    return total


def two_proportions(n1, n2, p1, p2, tail, alpha):
    low, high = region(tail, alpha, z_upper)
    p1, p2 = mpf(p1), mpf(p2)
    mass1 = [binomial(n1, k) * p1**k * (1 - p1) ** (n1 - k) for k in range(n1 + 1)]
    mass2 = [binomial(n2, k) * p2**k * (1 - p2) ** (n2 - k) for k in range(n2 + 1)]
    total = mpf(0)
    for i in range(n1 + 1):
        for j in range(n2 + 1):
            if 0 < i + j < n1 + n2:
                p = mpf(i + j) / (n1 + n2)
                z = (mpf(i) / n1 - mpf(j) / n2) / sqrt(p * (1 - p) * (mpf(1) / n1 + mpf(1) / n2))
                if low is not None and z <= low or high is not None and z >= high:
                    total += mass1[i] * mass2[j]
    return total


def first_for_good(power, target, least, last):
    below = [n for n in range(least, last + 1) if power(n) < target]
    assert below[-1] < last - 10
    return below[-1] + 1


cases = []


def case(problem, inputs, target, present, power, least, last):
    cases.append({"problem": {"grund": 1, **problem}, "inputs": inputs, "target": target,
                  "power": mp.nstr(present, 20), "needed": first_for_good(power, target, least, last)})


def summary(*groups):
    return {"summary": {"groups": list(groups)}}


for tail, truth in (("both", "41.9"), ("right", "41.9"), ("left", "40.2")):
    case({"procedure": "t-one-sample", "tail": tail, "options": {"mean": 41}, "data": summary({"n": 16, "mean": 42.1, "sd": 1.93})},
         {"truth": float(truth), "sd": 1.8}, 0.8, one_mean(16, truth, "41", "1.8", tail, "0.05"),
         lambda n: one_mean(n, truth, "41", "1.8", tail, "0.05"), 2, 60)
case({"procedure": "t-one-sample", "alpha": 0.01, "data": summary({"n": 7, "mean": 1, "sd": 2})},
     {"truth": -3.0, "sd": 2.0}, 0.95, one_mean(7, "-3", "0", "2", "both", "0.01"), lambda n: one_mean(n, "-3", "0", "2", "both", "0.01"), 2, 40)
case({"procedure": "z-one-sample", "options": {"mean": 41, "sigma": 1.5}, "data": summary({"n": 9, "mean": 41.8})},
     {"truth": 42.0}, 0.9, 1 - phi(z_upper("0.025") - 2) + phi(-z_upper("0.025") - 2),
     lambda n: 1 - phi(z_upper("0.025") - sqrt(mpf(n)) / mpf("1.5")) + phi(-z_upper("0.025") - sqrt(mpf(n)) / mpf("1.5")), 1, 60)
berths = ({"label": "Mole", "n": 18, "mean": 12.38, "sd": 0.67}, {"label": "Quarry", "n": 15, "mean": 13.57, "sd": 2.13})
case({"procedure": "t-two-sample", "data": summary(*berths)}, {"truth": -1.2, "sd_1": 0.7, "sd_2": 2.0}, 0.8,
     two_means(33, 18, 15, "-1.2", "0", "0.7", "2", False, "both", "0.05"), lambda n: two_means(n, 18, 15, "-1.2", "0", "0.7", "2", False, "both", "0.05"), 4, 90)
case({"procedure": "t-two-sample", "tail": "left", "options": {"variances": "equal", "difference": 0.5}, "data": summary(*berths)}, {"truth": -0.7, "sd": 1.5}, 0.8,
     two_means(33, 18, 15, "-0.7", "0.5", "1.5", "1.5", True, "left", "0.05"), lambda n: two_means(n, 18, 15, "-0.7", "0.5", "1.5", "1.5", True, "left", "0.05"), 4, 70)
for tail, correction in (("both", 0), ("right", mpf(1) / 2)):
    case({"procedure": "proportion-one", "tail": tail, "options": {"proportion": 0.6, "continuity": correction != 0}, "data": {"counts": {"categories": ["yes", "no"], "observed": [31, 14]}}},
         {"truth": 0.75}, 0.8, one_proportion(45, "0.6", "0.75", tail, "0.05", correction),
         lambda n: one_proportion(n, "0.6", "0.75", tail, "0.05", correction), 1, 140)


def equal(n):
    a = min(max(int(mpf(n) / 2 + mpf(1) / 2), 1), n - 1)
    return two_proportions(a, n - a, "0.8", "0.5", "both", "0.05")


case({"procedure": "proportion-two", "data": {"counts": {"rows": ["work", "leisure"], "columns": ["yes", "no"], "cells": [[20, 5], [14, 11]]}}},
     {"truth_1": 0.8, "truth_2": 0.5}, 0.8, two_proportions(25, 25, "0.8", "0.5", "both", "0.05"), equal, 2, 120)


def slope(n, truth, null, sd, along, tail, alpha):
    return power_t(mpf(n - 2), (mpf(truth) - mpf(null)) / mpf(sd) * along * sqrt(mpf(n - 1)), tail, alpha)


def share_explained(n, predictors, truth, alpha):
    """Noncentral F, as a Poisson mixture of areas of beta distributions; edge is where its region begins, as df2/(df2 + df1 F)."""
    a, b = mpf(predictors) / 2, mpf(n - predictors - 1) / 2
    edge, above = mpf(0), mpf(1)
    for _ in range(90):
        middle = (edge + above) / 2
        if betainc(b, a, 0, middle, regularized=True) < mpf(alpha):
            edge = middle
        else:
            above = middle
    half, total, j = n * mpf(truth) / (1 - mpf(truth)) / 2, mpf(0), 0
    while True:
        weight = exp(-half) * half**j / factorial(j)
        total += weight * betainc(b, a + j, 0, edge, regularized=True)
        if j > half and weight < mpf(10) ** -24:
            return total
        j += 1


minutes = ["32.8", "37.6", "35.6", "36.1", "33.9", "30.2", "45.9", "31.7", "34.4", "29.8", "38.5", "33.3"]
fuel = [41.7, 47.5, 42.3, 43.3, 39.1, 43.0, 55.0, 37.6, 39.7, 34.2, 44.9, 34.0]
wind = [6.5, 14.0, 6.4, 7.7, 5.0, 3.1, 15.2, 4.4, 7.9, 2.2, 9.6, 6.1]
values = [mpf(v) for v in minutes]
along = sqrt(sum((v - sum(values) / 12) ** 2 for v in values) / 11)
data = {"variables": [{"name": "y", "kind": "number", "values": fuel}, {"name": "x", "kind": "number", "values": [float(v) for v in minutes]}, {"name": "w", "kind": "number", "values": wind}]}
for tail, truth, null in (("both", "0.5", "0"), ("left", "-0.4", "0.3"), ("right", "1.2", "0.7")):
    case({"procedure": "regression-simple", "tail": tail, "roles": {"response": "y", "predictor": "x"}, "options": {"slope": float(null)}, "data": data}, {"truth": float(truth), "sd": 2.5}, 0.8,
         slope(12, truth, null, "2.5", along, tail, "0.05"), lambda n: slope(n, truth, null, "2.5", along, tail, "0.05"), 3, 60)
case({"procedure": "regression-multiple", "alpha": 0.01, "roles": {"response": "y", "predictors": ["x", "w"]}, "data": data}, {"truth": 0.35}, 0.9,
     share_explained(12, 2, "0.35", "0.01"), lambda n: share_explained(n, 2, "0.35", "0.01"), 4, 70)
print(json.dumps(cases, indent=1))
