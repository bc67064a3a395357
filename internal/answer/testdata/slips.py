"""Writes slips.json: problems, what is answered to them, and which slip it must be taken for. Right
numbers and those of the slips are calculated with mpmath at 40 digits from the textbook formulas.

    python3 slips.py > slips.json
"""

import json

from mpmath import betainc, erfc, erfinv, findroot, gammainc, inf, mp, mpf, nstr, sqrt

mp.dps = 40
cases = []


def t_upper(t, df):
    h = betainc(df / mpf(2), mpf(1) / 2, 0, df / (df + t * t), regularized=True) / 2
    return h if t > 0 else 1 - h


def t_quantile(p, df):
    return findroot(lambda t: t_upper(t, df) - p, 2)


def z_upper(z):
    return erfc(z / sqrt(2)) / 2


def z_quantile(p):
    return sqrt(2) * erfinv(1 - 2 * p)


def f_upper(f, a, b):
    return betainc(b / mpf(2), a / mpf(2), 0, b / (b + a * f), regularized=True)


def f_quantile(p, a, b, near):
    return findroot(lambda f: f_upper(f, a, b) - p, near)


def chi_upper(x, df):
    return gammainc(mpf(df) / 2, x / 2, inf, regularized=True)


def add(problem, **answers):
    """answers are ask=(number or text, verdict), several of an ask as a list."""
    for ask, given in answers.items():
        for number, verdict in given if isinstance(given, list) else [given]:
            typed = number if isinstance(number, str) else nstr(number, 5, min_fixed=-30, max_fixed=30)
            cases.append({"problem": problem, "ask": ask, "typed": typed, "verdict": verdict})


def digits(x, n=5):
    """x as it would be typed with n digits."""
    return nstr(x, n, min_fixed=-30, max_fixed=30)


def exchanged(x):
    """x as it would be typed, with its last two digits that differ exchanged."""
    typed = list(digits(x))
    for i in range(len(typed) - 1, 0, -1):
        if typed[i].isdigit() and typed[i - 1].isdigit() and typed[i] != typed[i - 1] and typed[i - 1] != "0":
            typed[i], typed[i - 1] = typed[i - 1], typed[i]
            return "".join(typed)
    raise ValueError(x)


def summary(procedure, groups, **more):
    return {"grund": 1, "procedure": procedure, **more, "data": {"summary": {"groups": [
        {"label": "abcd"[i], "n": n, "mean": float(m), "sd": float(s)} for i, (n, m, s) in enumerate(groups)]}}}


for n, m, s, null in [(16, "41.6", "2.4", "40"), (9, "12.31", "1.47", "11.5"), (25, "7.12", "0.83", "7.5")]:
    m, s, null = mpf(m), mpf(s), mpf(null)
    se, df = s / sqrt(n), n - 1
    t = (m - null) / se
    p = 2 * t_upper(abs(t), df)
    critical = t_quantile(mpf("0.025"), df)
    add(summary("t-one-sample", [(n, m, s)], options={"mean": float(null)}),
        se=[(se, "right"), (se**2, "slip root_forgotten"), (s, "slip root_n_forgotten"), (100 * se, "slip decimal_point")],
        t=[(exchanged(t), "slip digits_swapped"), (t / 100, "slip decimal_point"), (t, "right"), (-t, "slip sign"), (m / se, "slip h0_value_forgotten"), ((m - null) / s, "slip root_n_forgotten")],
        df=[(str(df), "right"), (str(n), "slip df_n"), (str(n - 2), "slip df_n_minus_2")],
        critical_high=[(critical, "right"), (t_quantile(mpf("0.05"), df), "slip one_tail"), (z_quantile(mpf("0.025")), "slip z_for_t")],
        p=[(p, "right"), (p / 2, "slip one_tail"), (2 * z_upper(abs(t)), "slip z_for_t"), (100 * p, "slip percent")])
    tail = "right" if t > 0 else "left"
    add(summary("t-one-sample", [(n, m, s)], options={"mean": float(null)}, tail=tail),
        p=[(p / 2, "right"), (p, "slip two_tails"), (1 - p / 2, "slip other_tail")])
    z = (m - null) / se
    add(summary("z-one-sample", [(n, m, s)], options={"mean": float(null), "sigma": float(s)}),
        p=[(2 * z_upper(abs(z)), "right"), (p, "slip t_for_z")],
        critical_high=[(z_quantile(mpf("0.025")), "right"), (critical, "slip t_for_z"), (z_quantile(mpf("0.05")), "slip one_tail")])

for (n1, m1, s1), (n2, m2, s2) in [((18, "12.4", "0.67"), (15, "13.57", "2.13")), ((11, "5.2", "1.1"), (14, "6.9", "2.4")),
                                   ((30, "101.5", "8.2"), (22, "95.1", "12.6"))]:
    m1, s1, m2, s2 = mpf(m1), mpf(s1), mpf(m2), mpf(s2)
    apart = sqrt(s1**2 / n1 + s2**2 / n2)
    pooled = sqrt(((n1 - 1) * s1**2 + (n2 - 1) * s2**2) / (n1 + n2 - 2) * (mpf(1) / n1 + mpf(1) / n2))
    added, bare = s1 / sqrt(n1) + s2 / sqrt(n2), sqrt(s1**2 + s2**2)
    d, groups = m1 - m2, [(n1, m1, s1), (n2, m2, s2)]
    add(summary("t-two-sample", groups),
        difference=[(d, "right"), (-d, "slip sign")],
        se=[(apart, "right"), (pooled, "slip pooled"), (added, "slip spreads_added"), (bare, "slip root_n_forgotten"),
            (apart**2, "slip root_forgotten")],
        t=[(d / apart, "right"), (-d / apart, "slip sign"), (d / pooled, "slip pooled"), (d / added, "slip spreads_added"),
           (d / bare, "slip root_n_forgotten")],
        df=[(str(min(n1, n2) - 1), "accepted smaller_group"), (str(n1 + n2 - 2), "slip pooled"), (str(n1 + n2), "slip df_n"),
            (str(n1 + n2 - 1), "slip df_n_minus_1")])
    add(summary("t-two-sample", groups, options={"variances": "equal"}),
        se=[(pooled, "right"), (apart, "slip kept_apart")], t=[(d / pooled, "right"), (d / apart, "slip kept_apart")],
        df=[(str(n1 + n2 - 2), "right"), (str(n1 + n2), "slip df_n"), (str(n1 + n2 - 1), "slip df_n_minus_1")])

for groups in [[(10, "8.1", "1.4"), (12, "9.5", "1.1"), (11, "10.2", "1.3")], [(7, "50.2", "6.1"), (9, "58.8", "7.3"), (8, "52.4", "5.5"), (6, "61.0", "8.2")],
               [(20, "3.1", "0.9"), (20, "3.9", "1.2"), (20, "3.4", "0.8")]]:
    groups = [(n, mpf(m), mpf(s)) for n, m, s in groups]
    n, k = sum(g[0] for g in groups), len(groups)
    mean = sum(g[0] * g[1] for g in groups) / n
    between, within = sum(g[0] * (g[1] - mean) ** 2 for g in groups), sum((g[0] - 1) * g[2] ** 2 for g in groups)
    f = (between / (k - 1)) / (within / (n - k))
    add(summary("anova-one-way", groups),
        f=[(f, "right"), (1 / f, "slip inverted"), (between / within, "slip sums_for_means")],
        ms_within=[(within / (n - k), "right"), (within, "slip sums_for_means")],
        df_between=[(str(k - 1), "right"), (str(n - k), "slip df_other")], df_within=[(str(n - k), "right"), (str(k - 1), "slip df_other")],
        critical_high=[(f_quantile(mpf("0.05"), k - 1, n - k, 3), "right"), (f_quantile(mpf("0.95"), k - 1, n - k, mpf("0.1")), "slip area_below"),
                       (f_quantile(mpf("0.025"), k - 1, n - k, 4), "slip two_tails")],
        p=[(f_upper(f, k - 1, n - k), "right"), (2 * f_upper(f, k - 1, n - k), "slip two_tails"), (1 - f_upper(f, k - 1, n - k), "slip other_tail")])

for values in [[12, 15, 11, 19, 14, 17], [3.2, 4.1, 2.8, 5.5, 3.9, 4.4, 6.1], [101, 98, 113, 95, 120]]:
    x = [mpf(str(v)) for v in values]
    n, mean = len(x), sum(x) / len(x)
    squares = sum((v - mean) ** 2 for v in x)
    sd, by_n = sqrt(squares / (n - 1)), sqrt(squares / n)
    add({"grund": 1, "procedure": "t-one-sample", "roles": {"response": "x"}, "options": {"mean": 1},
         "data": {"variables": [{"name": "x", "kind": "number", "values": values}]}},
        sd=[(sd, "right"), (by_n, "slip n_for_n_minus_1"), (sd**2, "slip root_forgotten")],
        se=[(sd / sqrt(n), "right"), (by_n / sqrt(n), "slip n_for_n_minus_1")],
        t=[((mean - 1) / (sd / sqrt(n)), "right"), ((mean - 1) / (by_n / sqrt(n)), "slip n_for_n_minus_1")])

for table in [[[35, 25], [15, 25]], [[12, 30, 18], [22, 14, 24]], [[8, 19], [21, 11], [14, 17]]]:
    rows, columns = [sum(r) for r in table], [sum(c) for c in zip(*table)]
    n, size = sum(rows), len(rows) * len(columns)
    pairs = [(mpf(o), mpf(rows[i]) * columns[j] / n) for i, r in enumerate(table) for j, o in enumerate(r)]
    chi = sum((o - e) ** 2 / e for o, e in pairs)
    names = {"rows": ["p", "q", "r"][: len(rows)], "columns": ["u", "v", "w"][: len(columns)], "cells": table}
    problem = {"grund": 1, "procedure": "chi-square-independence", "data": {"counts": names}}
    df = (len(rows) - 1) * (len(columns) - 1)
    add(problem, **{"cells/p|u/expected": [(pairs[0][1], "right"), (mpf(n) / size, "slip all_cells_alike")]},
        chi_square=[(chi, "right"), (sum((o - e) ** 2 / o for o, e in pairs), "slip divided_by_observed"),
                    (sum(abs(o - e) / e for o, e in pairs), "slip not_squared"), (sum((o - e) ** 2 for o, e in pairs), "slip not_divided")],
        df=[(str(df), "right"), (str(size - 1), "slip df_cells_minus_1"), (str(size), "slip df_cells")],
        p=[(chi_upper(chi, df), "right"), (2 * chi_upper(chi, df), "slip two_tails")])
for a, b, c, d in [(35, 25, 15, 25), (14, 6, 9, 15), (40, 31, 22, 37)]:
    n = a + b + c + d
    margins = mpf(a + b) * (c + d) * (a + c) * (b + d)
    plain, corrected = n * mpf(a * d - b * c) ** 2 / margins, n * (abs(mpf(a * d - b * c)) - mpf(n) / 2) ** 2 / margins
    problem = {"grund": 1, "procedure": "chi-square-independence",
               "data": {"counts": {"rows": ["p", "q"], "columns": ["u", "v"], "cells": [[a, b], [c, d]]}}}
    add(problem, chi_square=[(plain, "right"), (corrected, "slip continuity")])
    add({**problem, "options": {"continuity": True}}, chi_square=[(corrected, "right"), (plain, "slip no_continuity")])

for x, n, null in [(31, 53, "0.5"), (18, 80, "0.3"), (61, 75, "0.7")]:
    share, null = mpf(x) / n, mpf(null)
    se, own = sqrt(null * (1 - null) / n), sqrt(share * (1 - share) / n)
    add({"grund": 1, "procedure": "proportion-one", "options": {"proportion": float(null)},
         "data": {"counts": {"categories": ["yes", "no"], "observed": [x, n - x]}}},
        proportion=[(share, "right"), (100 * share, "slip percent")], se=[(se, "right"), (own, "slip sample_proportion"), (se**2, "slip root_forgotten")],
        z=[((share - null) / se, "right"), ((share - null) / own, "slip sample_proportion"), ((null - share) / se, "slip sign"),
           (share / se, "slip h0_value_forgotten")])
for (a, n1), (b, n2) in [((18, 60), (31, 55)), ((44, 90), (22, 80)), ((12, 40), (30, 61))]:
    p1, p2, both = mpf(a) / n1, mpf(b) / n2, mpf(a + b) / (n1 + n2)
    pooled, apart = sqrt(both * (1 - both) * (mpf(1) / n1 + mpf(1) / n2)), sqrt(p1 * (1 - p1) / n1 + p2 * (1 - p2) / n2)
    add({"grund": 1, "procedure": "proportion-two",
         "data": {"counts": {"rows": ["p", "q"], "columns": ["yes", "no"], "cells": [[a, n1 - a], [b, n2 - b]]}}},
        se=[(pooled, "right"), (apart, "slip unpooled")], z=[((p1 - p2) / pooled, "right"), ((p1 - p2) / apart, "slip unpooled"),
                                                             ((p2 - p1) / pooled, "slip sign")])
for counts in [[18, 25, 31, 22], [12, 30, 19], [41, 35, 28, 22, 24]]:
    k, n = len(counts), sum(counts)
    names = ["p", "q", "r", "s", "t"][:k]
    chi = sum((o - mpf(n) / k) ** 2 / (mpf(n) / k) for o in counts)
    add({"grund": 1, "procedure": "chi-square-fit", "data": {"counts": {"categories": names, "observed": counts}}},
        chi_square=[(chi, "right"), (sum((o - mpf(n) / k) ** 2 / o for o in counts), "slip divided_by_observed"),
                    (sum(abs(o - mpf(n) / k) / (mpf(n) / k) for o in counts), "slip not_squared")],
        df=[(str(k - 1), "right"), (str(k), "slip df_categories"), (str(n), "slip df_n"), (str(n - 1), "slip df_n_minus_1")])

for x, y in [([1, 2, 3, 4, 5, 6], [2.1, 3.9, 5.2, 8.8, 9.1, 11.7]), ([10, 12, 15, 19, 24], [31, 29, 22, 20, 11]), ([3, 5, 6, 8, 9, 12, 13], [4, 7, 5, 9, 12, 10, 15])]:
    a, b = [mpf(v) for v in x], [mpf(str(v)) for v in y]
    n, ma, mb = len(a), sum(a) / len(a), sum(b) / len(b)
    sxx, syy, sxy = sum((v - ma) ** 2 for v in a), sum((v - mb) ** 2 for v in b), sum((v - ma) * (w - mb) for v, w in zip(a, b))
    r = sxy / sqrt(sxx * syy)
    slope, other, at = sxy / sxx, sxy / syy, a[1] + mpf(1) / 2
    intercept, df = mb - slope * ma, n - 2
    spread = sqrt((syy - slope * sxy) / df)
    t, lever = t_quantile(mpf("0.025"), df), mpf(1) / n + (at - ma) ** 2 / sxx
    fitted = intercept + slope * at
    row = f"predictions/{nstr(at, 6, strip_zeros=True)}/"
    add({"grund": 1, "procedure": "regression-simple", "roles": {"response": "y", "predictor": "x"}, "options": {"predict_at": [float(at)]},
         "data": {"variables": [{"name": "x", "kind": "number", "values": x}, {"name": "y", "kind": "number", "values": y}]}},
        slope=[(slope, "right"), (other, "slip regressed_other_way")], intercept=[(intercept, "right"), (ma - other * mb, "slip regressed_other_way")],
        **{row + "fitted": [(fitted, "right"), (slope * at, "slip intercept_forgotten")],
           row + "new_low": [(fitted - t * spread * sqrt(1 + lever), "right"), (fitted - t * spread * sqrt(lever), "slip mean_for_new")],
           row + "new_high": [(fitted + t * spread * sqrt(1 + lever), "right"), (fitted + t * spread * sqrt(lever), "slip mean_for_new")],
           "cases/1/fitted": [(intercept + slope * a[0], "right"), (slope * a[0], "slip intercept_forgotten")]})
    add({"grund": 1, "procedure": "regression-simple", "roles": {"response": "y", "predictor": "x"},
         "data": {"variables": [{"name": "x", "kind": "number", "values": x}, {"name": "y", "kind": "number", "values": y}]}},
        slope=[(sxy / sxx, "right"), (-sxy / sxx, "slip sign")], r=[(r, "right"), (r**2, "slip squared_r")],
        r_squared=[(r**2, "right"), (r, "slip not_squared_r")], df=[(str(n - 2), "right"), (str(n), "slip df_n"), (str(n - 1), "slip df_n_minus_1")])

print(json.dumps(cases, indent=0))
