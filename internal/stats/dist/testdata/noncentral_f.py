"""Writes the reference table noncentral_f.tsv: the tails of F where H0 is not true, as the
integral over the noncentral chi-square above the line, by its density with a Bessel
function, of the chi-square tail below it; with mpmath at 40 digits.

    python3 noncentral_f.py > noncentral_f.tsv
"""

from mpmath import besseli, exp, gammainc, inf, linspace, mp, mpf, quad, sqrt

mp.dps = 40

print("# P(F <= f) and P(F >= f); made by noncentral_f.py\n# df1\tdf2\tnoncentrality\tf\tlower\tupper")
for df1, df2, nc, f in [(3, 42, "11.25", "2.827"), (3, 42, "0.5", "2.827"), (1, 10, "4", "4.965"), (8, 18, "25", "2.5"), (2, 4, "3", "6.944"), (11, 81, "60", "1.909"), (3, 400, "30", "20"), (5, 30, "2", "0.3")]:
    df1, df2, nc, at = mpf(df1), mpf(df2), mpf(nc), mpf(f)

    def density(x):
        return exp(-(x + nc) / 2) / 2 * (x / nc) ** (df1 / 4 - mpf(1) / 2) * besseli(df1 / 2 - 1, sqrt(nc * x))

    def below(x):
        """P(V2 <= df2 x / (df1 f)): then the quotient is at least f."""
        return gammainc(df2 / 2, 0, df2 * x / (df1 * at) / 2, regularized=True)

    # Over y = sqrt(x), in which the density has no corner at 0.
    centre = sqrt(df1 + nc)
    ends = [mpf(0), *linspace(centre / 16, centre * 3, 24), centre * 6, inf]
    upper = quad(lambda y: 2 * y * density(y * y) * below(y * y), ends)
    lower = quad(lambda y: 2 * y * density(y * y) * (1 - below(y * y)), ends)
    assert abs(lower + upper - 1) < mpf(10) ** -25, (f, mp.nstr(lower + upper - 1, 5))
    print(*(mp.nstr(x, 10) for x in (df1, df2, nc, at)), mp.nstr(lower, 20), mp.nstr(upper, 20), sep="\t", flush=True)
