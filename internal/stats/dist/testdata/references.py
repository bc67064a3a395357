"""Writes the reference tables chi_square.tsv and f.tsv.

Both tails are computed with mpmath at 70 digits, each by a continued fraction or a
series, and where both converge the two must agree to 45 digits before a row is written.

    python3 references.py
"""

from mpmath import mp, mpf, exp, log, loggamma, sqrt

mp.dps = 70


def gamma_front(a, x):
    return exp(a * log(x) - x - loggamma(a + 1))


def gamma_lower(a, x):
    """P(a, x) by its power series, all of whose terms are positive."""
    total = term = mpf(1)
    n = 0
    while term > total * mpf(10) ** -60:
        n += 1
        term *= x / (a + n)
        total += term
    return gamma_front(a, x) * total


def lentz(b0, pairs, digits=60):
    """The continued fraction b0 + a1/(b1+ a2/(b2+ …)) of (a, b) pairs."""
    h = c = b0
    d = mpf(0)
    for a, b in pairs:
        d = 1 / (b + a * d)
        c = b + a / c
        h *= c * d
        if abs(c * d - 1) < mpf(10) ** -digits:
            return h


def gamma_upper(a, x):
    """Q(a, x) by its continued fraction."""

    def pairs():
        n = 0
        while True:
            n += 1
            yield -n * (n - a), x + 2 * n + 1 - a

    return gamma_front(a, x) * a / lentz(x + 1 - a, pairs())


def beta_front(a, b, x, y):
    return exp(a * log(x) + b * log(y) - loggamma(a) - loggamma(b) + loggamma(a + b)) / a


def beta_small(a, b, x, y):
    """I_x(a, b) for x below about the mean, by its continued fraction."""

    def pairs():
        m = 0
        while True:
            yield -(a + m) * (a + b + m) * x / ((a + 2 * m) * (a + 2 * m + 1)), mpf(1)
            m += 1
            yield m * (b - m) * x / ((a + 2 * m - 1) * (a + 2 * m)), mpf(1)

    return beta_front(a, b, x, y) / lentz(mpf(1), pairs())


def beta_series(a, b, x, y):
    """I_x(a, b) by the series of 2F1(a+b, 1; a+1; x), all of whose terms are positive."""
    total = term = mpf(1)
    n = 0
    while term > total * mpf(10) ** -60:
        term *= (a + b + n) / (a + 1 + n) * x
        total += term
        n += 1
    return beta_front(a, b, x, y) * total


def hilferty(df, z):
    """Wilson and Hilferty's rough quantile, only to choose points."""
    t = 2 / (9 * df)
    return df * max(1 - t + z * t**0.5, 0) ** 3


def digits(x):
    return mp.nstr(x, 35, min_fixed=1, max_fixed=0)


def chi_square():
    points = [1e-200, 1e-20, 1e-8, 1e-3, 0.1, 0.5, 1.0, 2.0, 3.5, 5.0, 10.0, 30.0, 100.0, 300.0, 700.0, 1370.0]
    with open("chi_square.tsv", "w") as out:
        print("# P(X <= x) and P(X >= x), 35 digits; made by references.py\n# df\tx\tlower\tupper", file=out)
        for df in [0.1, 0.5, 1.0, 2.0, 3.7, 10.0, 31.5, 100.0, 1000.5, 50_000.0, 1e6]:
            xs = points if df < 30 else [hilferty(df, z) for z in (-36, -20, -8, -3, -1, -0.3, 0.3, 1, 1.96, 5, 12, 25, 36)]
            for x in xs:
                if x == 0:
                    continue
                a, half = mpf(df) / 2, mpf(x) / 2
                if half < a:
                    lower = gamma_lower(a, half)
                    upper = 1 - lower
                else:
                    upper = gamma_upper(a, half)
                    lower = gamma_lower(a, half) if upper > mpf(10) ** -40 else 1 - upper
                    if upper > mpf(10) ** -40:
                        assert abs(lower + upper - 1) < mpf(10) ** -45, (df, x)
                if min(lower, upper) > mpf(10) ** -305:
                    print(f"{df!r}\t{x!r}\t{digits(lower)}\t{digits(upper)}", file=out)


def f():
    degrees = [0.1, 1.0, 2.0, 5.5, 14.0, 60.0, 1000.0, 50_000.0, 1e6]
    with open("f.tsv", "w") as out:
        print("# P(X <= f) and P(X >= f), 35 digits; made by references.py\n# df1\tdf2\tf\tlower\tupper", file=out)
        for d1 in degrees:
            for d2 in degrees:
                spread = (2 / d1 + 2 / d2) ** 0.5
                if max(d1, d2) > 30 and min(d1, d2) > 30:
                    xs = [float(exp(mpf(z * spread))) for z in (-30, -12, -4, -1.5, -0.4, 0.4, 1.5, 4, 12, 30)]
                else:
                    xs = [1e-100, 1e-8, 1e-3, 0.2, 0.7, 1.0, 1.3, 3.0, 10.0, 40.0, 1e3, 1e8, 1e50]
                for x in xs:
                    a, b = mpf(d1) / 2, mpf(d2) / 2
                    u = mpf(d1) * mpf(x) / (mpf(d1) * mpf(x) + mpf(d2))
                    v = mpf(d2) / (mpf(d1) * mpf(x) + mpf(d2))
                    if u < (a + 1) / (a + b + 2):
                        lower = beta_small(a, b, u, v)
                        upper = 1 - lower
                    else:
                        upper = beta_small(b, a, v, u)
                        lower = 1 - upper
                    if a + b < 1000 and max(u, v) < 0.99 and min(lower, upper) > mpf(10) ** -20:
                        assert abs(beta_series(a, b, u, v) - lower) < mpf(10) ** -45, (d1, d2, x)
                    if min(lower, upper) > mpf(10) ** -305 and min(lower, upper) > 0:
                        print(f"{d1!r}\t{d2!r}\t{x!r}\t{digits(lower)}\t{digits(upper)}", file=out)


if __name__ == "__main__":
    chi_square()
    f()
