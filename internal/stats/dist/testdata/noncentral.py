"""Writes the reference table noncentral_t.tsv.

The lower tail is the series of incomplete beta functions (R. V. Lenth, Appl. Statist. 38,
1989), with mpmath at 60 digits; for t < 0 the other tail of -T is taken.

    python3 noncentral.py > noncentral_t.tsv
"""

from mpmath import betainc, exp, factorial, gamma, mp, mpf, ncdf, sqrt

mp.dps = 60


def lower(t, nu, delta):
    if t < 0:
        return 1 - lower(-t, nu, -delta)
    x = t * t / (nu + t * t)
    half = delta * delta / 2
    total, j = mpf(0), 0
    while True:
        p = exp(-half) * half**j / factorial(j)
        q = delta / sqrt(mpf(2)) * exp(-half) * half**j / gamma(j + mpf(3) / 2)
        term = p * betainc(j + mpf(1) / 2, nu / 2, 0, x, regularized=True)
        term += q * betainc(j + 1, nu / 2, 0, x, regularized=True)
        total += term
        if j > half + 20 and abs(term) < mpf(10) ** -45:
            break
        j += 1
    return ncdf(-delta) + total / 2


rows = [
    ("2.12", "16.33", "1"), ("2.12", "16.33", "2.5"), ("-2.12", "16.33", "2.5"), ("1.7531", "15", "3"), ("12.706", "1", "2"), ("12.706", "1", "20"),
    ("318.3", "1", "3"), ("0", "5", "1.2"), ("0.5", "0.5", "0.7"), ("2.0244", "38", "-1"), ("1.96", "1000", "2.8"), ("1.96", "100000", "2.8"),
    ("-1.645", "250", "-3.3"), ("6.9", "4", "10"), ("3", "29", "8"), ("25", "12", "20"),
]
print("# P(T <= t) and P(T >= t), 30 digits; made by noncentral.py\n# t\tdf\tnoncentrality\tlower\tupper")
for t, nu, delta in rows:
    p = lower(mpf(t), mpf(nu), mpf(delta))
    print(t, nu, delta, mp.nstr(p, 30), mp.nstr(1 - p, 30), sep="\t", flush=True)
