"""Writes regression.json: problems for regression-simple, regression-multiple and
correlation, and what must come out. Coefficients and sums of squares are exact fractions, by
the normal equations; areas of t, F and the normal curve are taken with mpmath at 50 digits.

    python3 regression.py > regression.json
"""

import json
import sys
from fractions import Fraction

import mpmath
from mpmath import atanh, mp, mpf, sqrt, tanh

import t_two_sample
import variance_ratio
from t_two_sample import real

mp.dps = 50


def solve(columns, y):
    """Coefficients, the inverse of X'X and the residuals, intercept first."""
    rows = [[Fraction(1), *map(Fraction, row)] for row in zip(*columns)]
    y = [Fraction(v) for v in y]
    p = len(rows[0])
    m = [[sum(r[i] * r[j] for r in rows) for j in range(p)] + [sum(r[i] * v for r, v in zip(rows, y))] + [Fraction(int(i == k)) for k in range(p)] for i in range(p)]
    for i in range(p):
        swap = next(k for k in range(i, p) if m[k][i])
        m[i], m[swap] = m[swap], m[i]
        pivot = m[i][i]
        m[i] = [v / pivot for v in m[i]]
        for k in range(p):
            if k != i and m[k][i]:
                by = m[k][i]
                m[k] = [a - by * b for a, b in zip(m[k], m[i])]
    b = [m[i][p] for i in range(p)]
    fitted = [sum(c * v for c, v in zip(b, r)) for r in rows]
    return b, [r[p + 1 :] for r in m], rows, fitted, [v - f for v, f in zip(y, fitted)]


def logarithm(v):
    """The natural logarithm as a fraction that holds all its 50 digits."""
    return Fraction(mpmath.nstr(mpmath.log(real(Fraction(v))), 50))


def quad(v, m):
    return sum(v[i] * m[i][j] * v[j] for i in range(len(v)) for j in range(len(v)))


def t_p(t, df, tail="both"):
    up = t_two_sample.upper(t, mpf(df))
    return {"right": up, "left": 1 - up, "both": 2 * min(up, 1 - up)}[tail]


def spread(values):
    values = [Fraction(v) for v in values]
    mean = sum(values) / len(values)
    return sum((v - mean) ** 2 for v in values)


def cells(out, names, b, inverse, sd, df, area, xs, y):
    times = t_two_sample.quantile(area / 2, mpf(df))
    for j, name in enumerate(["intercept", *names]):
        se = sd * sqrt(real(inverse[j][j]))
        key = f"coefficients/{name}/"
        out |= {key + "coefficient": b[j], key + "se": se, key + "t": real(b[j]) / se, key + "p": t_p(real(b[j]) / se, df), key + "ci_low": real(b[j]) - times * se, key + "ci_high": real(b[j]) + times * se}
        if len(names) > 1 and j:
            out |= {key + "vif": inverse[j][j] * spread(xs[j - 1]), key + "standardized_coefficient": real(b[j]) * sqrt(real(spread(xs[j - 1]) / spread(y)))}


def diagnostics(out, rows, inverse, fitted, residuals, sd, p, every):
    for i in every:
        h = quad(rows[i], inverse)
        standard = real(residuals[i]) / (sd * sqrt(1 - real(h)))
        key = f"cases/{i + 1}/"
        out |= {key + "fitted": fitted[i], key + "residual": residuals[i], key + "leverage": h, key + "standardized": standard, key + "cooks_distance": standard**2 / p * real(h) / (1 - real(h))}


def predicted(key, fitted, h, times):
    return {key + "fitted": fitted, key + "mean_low": fitted - times * sqrt(h), key + "mean_high": fitted + times * sqrt(h), key + "new_low": fitted - times * sqrt(1 + h), key + "new_high": fitted + times * sqrt(1 + h)}


def main():
    cases = []

    def put(name, problem, out, alpha, deciding):
        text = {k: None if v is None else mp.nstr(real(v) if isinstance(v, Fraction) else mpf(v), 30) for k, v in out.items()}
        cases.append({"name": name, "problem": {"grund": 1, "alpha": alpha, **problem}, "expected": text, "reject": bool(deciding is not None and out["p"] <= real(Fraction(alpha))), "deciding": deciding or "none"})

    def variables(**columns):
        return {"variables": [{"name": k, "kind": "category" if isinstance(v[0], str) else "number", "values": v} for k, v in columns.items()]}

    def simple(name, x, y, slope=0, tail="both", alpha=0.05, confidence=None, at=(), scale="linear"):
        measured = y
        if scale == "log":
            y = [logarithm(v) for v in y]
        b, inverse, rows, fitted, e = solve([x], y)
        n, df = len(x), len(x) - 2
        sse, sst = sum(v * v for v in e), spread(y)
        sd = sqrt(real(sse / df))
        area = real(Fraction(alpha)) if confidence is None else 1 - mpf(str(confidence))
        se = sd * sqrt(real(inverse[1][1]))
        t = (real(b[1]) - mpf(slope)) / se
        reach = t_two_sample.quantile(area / 2 if tail == "both" else area, mpf(df)) * se
        out = {"n": n, "slope": b[1], "intercept": b[0], "ss_total": sst, "ss_residual": sse, "ss_regression": sst - sse, "residual_sd": sd, "se_slope": se, "se_intercept": sd * sqrt(real(inverse[0][0])), "t": t, "df": df, "p": t_p(t, df, tail),
               "r_squared": 1 - sse / sst, "r": mpmath.sign(real(b[1])) * sqrt(real(1 - sse / sst)), "f": real((sst - sse) / (sse / df)),
               "ci_low": None if tail == "left" else real(b[1]) - reach, "ci_high": None if tail == "right" else real(b[1]) + reach}
        critical = t_two_sample.quantile(real(Fraction(alpha)) / (2 if tail == "both" else 1), mpf(df))
        if tail != "left":
            out["critical_high"] = critical
        if tail != "right":
            out["critical_low"] = -critical
        cells(out, ["x"], b, inverse, sd, df, area, [x], y)
        diagnostics(out, rows, inverse, fitted, e, sd, 2, (0, n // 2, n - 1))
        times = t_two_sample.quantile(area / 2, mpf(df)) * sd
        for a in at:
            row = [Fraction(1), Fraction(a)]
            h, f = real(quad(row, inverse)), real(sum(c * v for c, v in zip(b, row)))
            key = f"predictions/{a:g}/"
            out |= predicted(key, f, h, times)
            if scale == "log":
                out |= {k.replace("predictions", "predictions_measured"): mpmath.exp(v) for k, v in predicted(key, f, h, times).items()}
        if scale == "log":
            out |= {"factor": mpmath.exp(real(b[1])), "factor_low": mpmath.exp(out["ci_low"]), "factor_high": mpmath.exp(out["ci_high"])}
        problem = {"procedure": "regression-simple", "tail": tail, "roles": {"response": "y", "predictor": "x"}, "options": {"slope": slope, "predict_at": list(at)} | ({"response_scale": scale} if scale != "linear" else {}), "data": variables(x=x, y=measured)}
        if confidence is not None:
            problem["confidence"] = confidence
        put(name, problem, out, alpha, "p")

    def several(name, columns, y, at=(), compare=(), references=None, alpha=0.05, scale="linear"):
        """columns: numbers, or levels of a category."""
        measured = y
        if scale == "log":
            y = [logarithm(v) for v in y]

        def terms(names):
            out = []
            for key in names:
                v = columns[key]
                if isinstance(v[0], str):
                    levels = list(dict.fromkeys(v))
                    reference = (references or {}).get(key, levels[0])
                    out += [(f"{key}: {level}", [int(u == level) for u in v]) for level in levels if level != reference]
                else:
                    out.append((key, v))
            return out

        def fit(names):
            t = terms(names)
            return t, solve([v for _, v in t], y)

        t, (b, inverse, rows, fitted, e) = fit(columns)
        n, p = len(y), len(t)
        df = n - p - 1
        sse, sst = sum(v * v for v in e), spread(y)
        sd, area = sqrt(real(sse / df)), real(Fraction(alpha))
        f = real((sst - sse) / p / (sse / df))
        out = {"n": n, "ss_total": sst, "ss_residual": sse, "ss_regression": sst - sse, "f": f, "df_1": p, "df_2": df, "p": variance_ratio.upper(f, p, df), "critical_high": variance_ratio.quantile(area, p, df),
               "r_squared": 1 - sse / sst, "adjusted_r_squared": 1 - (sse / df) / (sst / (n - 1)), "residual_sd": sd}
        cells(out, [k for k, _ in t], b, inverse, sd, df, area, [v for _, v in t], y)
        diagnostics(out, rows, inverse, fitted, e, sd, p + 1, (0, n - 1))
        times = t_two_sample.quantile(area / 2, mpf(df)) * sd
        for place in at:
            row = [Fraction(1)]
            for (key, v), a in zip(columns.items(), place):
                row += [Fraction(int(k == f"{key}: {a}")) for k, _ in t if k.startswith(key + ": ")] if isinstance(v[0], str) else [Fraction(a)]
            h, g = real(quad(row, inverse)), real(sum(c * v for c, v in zip(b, row)))
            key = f"predictions/{', '.join(a if isinstance(a, str) else f'{a:g}' for a in place)}/"
            out |= predicted(key, g, h, times)
            if scale == "log":
                out |= {k.replace("predictions", "predictions_measured"): mpmath.exp(v) for k, v in predicted(key, g, h, times).items()}
        if scale == "log":
            for k, _ in t:
                row = f"coefficients/{k}/"
                out |= {f"factors/{k}/factor": mpmath.exp(real(out[row + "coefficient"])), f"factors/{k}/factor_low": mpmath.exp(out[row + "ci_low"]), f"factors/{k}/factor_high": mpmath.exp(out[row + "ci_high"])}
        for names in compare:
            other, (_, _, _, _, e2) = fit(names)
            sse2, df2 = sum(v * v for v in e2), n - len(other) - 1
            key = f"fits/{', '.join(names)}/"
            out |= {key + "r_squared": 1 - sse2 / sst, key + "residual_sd": sqrt(real(sse2 / df2)), key + "adjusted_r_squared": 1 - (sse2 / df2) / (sst / (n - 1))}
            if set(names) < set(columns):
                change = real((sse2 - sse) / (df2 - df) / (sse / df))
                out |= {key + "f_change": change, key + "p_change": variance_ratio.upper(change, df2 - df, df)}
            else:
                out |= {key + "f_change": None, key + "p_change": None}
        options = {"predict_at": [list(a) for a in at], "compare": [list(c) for c in compare]}
        if references:
            options["references"] = references
        if scale != "linear":
            options["response_scale"] = scale
        put(name, {"procedure": "regression-multiple", "roles": {"response": "y", "predictors": list(columns)}, "options": options, "data": variables(y=measured, **columns)}, out, alpha, "p")

    def ranks(v):
        ordered = sorted(v)
        return [Fraction(ordered.index(a) + 1 + len(ordered) - ordered[::-1].index(a), 2) for a in v]

    def correlate(name, columns, method="pearson", tail="both", alpha=0.05, confidence=None):
        area = real(Fraction(alpha)) if confidence is None else 1 - mpf(str(confidence))
        names = list(columns)
        out = {}
        for i, first in enumerate(names):
            for second in names[i + 1 :]:
                x, y = (ranks(columns[k]) if method == "spearman" else [Fraction(v) for v in columns[k]] for k in (first, second))
                n = len(x)
                mx, my = sum(x) / n, sum(y) / n
                r = real(sum((a - mx) * (b - my) for a, b in zip(x, y))) / sqrt(real(spread(x) * spread(y)))
                t = r * sqrt((n - 2) / (1 - r * r))
                reach = lambda a: -sqrt(mpf(2)) * mpmath.erfinv(2 * a - 1) / sqrt(mpf(n - 3))
                key = f"pairs/{first}|{second}/"
                out |= {key + "n": n, key + "r": r, key + "t": t, key + "p": t_p(t, n - 2), key + "ci_low": tanh(atanh(r) - reach(area / 2)), key + "ci_high": tanh(atanh(r) + reach(area / 2))}
                if len(names) == 2:
                    own = reach(area / 2 if tail == "both" else area)
                    out |= {"n": n, "r": r, "t": t, "df": n - 2, "p": t_p(t, n - 2, tail), "ci_low": None if tail == "left" else tanh(atanh(r) - own), "ci_high": None if tail == "right" else tanh(atanh(r) + own)}
        problem = {"procedure": "correlation", "tail": tail, "roles": {"variables": names}, "options": {"method": method}, "data": variables(**columns)}
        if confidence is not None:
            problem["confidence"] = confidence
        put(name, problem, out, alpha, "p" if len(names) == 2 else None)

    minutes = [32.8, 37.6, 35.6, 36.1, 33.9, 30.2, 45.9, 31.7, 34.4, 29.8, 38.5, 33.3]
    fuel = [41.7, 47.5, 42.3, 43.3, 39.1, 43.0, 55.0, 37.6, 39.7, 34.2, 44.9, 34.0]
    vehicles = [24, 19, 14, 22, 11, 30, 25, 12, 17, 8, 20, 10]
    wind = [6.5, 14.0, 6.4, 7.7, 5.0, 3.1, 15.2, 4.4, 7.9, 2.2, 9.6, 6.1]
    ferry = ["Dunlin", "Dunlin", "Turnstone", "Puffin", "Puffin", "Dunlin", "Turnstone", "Puffin", "Dunlin", "Turnstone", "Puffin", "Turnstone"]
    far = [1e8 + v for v in minutes]
    flat = [3.1, 2.9, 3.3, 3.0, 3.2, 2.8, 3.1, 3.05, 2.95, 3.15, 3.0, 3.02]
    for tail in ("both", "left", "right"):
        simple(f"fuel by minutes, {tail}", minutes, fuel, 0, tail, at=(36, 50.5))
        simple(f"against 1, {tail}", minutes, fuel, 1, tail, 0.01, 0.9)
        simple(f"flat, {tail}", minutes, flat, 0, tail, 0.1)
        for method in ("pearson", "spearman"):
            correlate(f"correlation, {method}, {tail}", {"x": minutes, "y": fuel}, method, tail)
            correlate(f"ties, {method}, {tail}", {"x": [1, 2, 2, 3, 5, 5, 8], "y": [2, 1, 4, 4, 3, 9, 7]}, method, tail, 0.1, 0.8)
    simple("an offset", far, [1e9 + v for v in fuel])
    simple("three cases", [1, 2, 4], [2, 3, 8])
    simple("falling", [1, 2, 3, 4, 5, 6], [9.5, 8.1, 6.2, 4.4, 1.9, 0.3], -2)
    correlate("three variables", {"x": minutes, "y": fuel, "w": wind})
    correlate("three by ranks", {"x": minutes, "y": fuel, "w": wind}, "spearman", confidence=0.99)
    several("two predictors", {"minutes": minutes, "vehicles": vehicles}, fuel, [(36, 15)], [("minutes",), ("vehicles",)])
    several("three predictors", {"minutes": minutes, "vehicles": vehicles, "wind": wind}, fuel, [(36, 15, 7.5), (50, 40, 20)], [("wind", "minutes"), ("vehicles",)], alpha=0.01)
    several("a category", {"minutes": minutes, "ferry": ferry}, fuel, [(36, "Puffin"), (36, "Dunlin")], [("minutes",), ("ferry",)])
    several("a category against another reference", {"ferry": ferry, "minutes": minutes}, fuel, [("Dunlin", 40)], [("ferry",)], {"ferry": "Puffin"})
    several("one predictor", {"minutes": minutes}, fuel)
    several("powers", {"a": [v for v in range(12)], "b": [v**2 for v in range(12)], "c": [v**3 for v in range(12)], "d": [v**4 for v in range(12)]}, fuel, [(5, 25, 125, 625)])
    several("large offsets", {"a": far, "b": [1e7 - v for v in wind]}, fuel, compare=[("b",)])
    simple("a logarithm", minutes, fuel, at=(36, 50.5), scale="log")
    simple("a falling logarithm", [1, 2, 3, 4, 5, 6], [95, 31, 12.2, 4.4, 1.9, 0.3], -2, alpha=0.1, at=(7,), scale="log")
    several("a logarithm of two predictors", {"minutes": minutes, "ferry": ferry}, fuel, [(36, "Puffin")], [("minutes",)], scale="log")
    json.dump(cases, sys.stdout, indent=1)


if __name__ == "__main__":
    main()
