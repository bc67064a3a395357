"""Writes the reference table studentized_range.tsv.

The lower tail of the range of k normal variables is k times the integral over z of
phi(z) (Phi(z + w) - Phi(z))^(k-1); it is averaged over the chi distribution, and the upper
tail is its complement, at as many digits as that takes. Both integrals by the trapezoidal
rule with mpmath, twice with different steps, which must agree to 15 digits.

    python3 range.py > studentized_range.tsv
"""

from mpmath import erfc, exp, gamma, inf, log, mp, mpf, sqrt


def lower(q, k, nu, fine):
    """P(Q <= q)."""
    tiny = mpf(10) ** (-mp.dps - 3)
    root = sqrt(mpf(2))

    def upper_normal(z):
        return erfc(z / root) / 2

    def line(f, start, step):
        total = f(start)
        for direction in (-step, step):
            i, last = 1, total
            while True:
                y = f(start + i * direction)
                total += y
                if y <= last and y <= tiny * total:
                    break
                i, last = i + 1, y
        return total * step

    def normal_range(w):
        def f(z):
            between = upper_normal(z) - upper_normal(z + w) if z + w / 2 > 0 else upper_normal(-z - w) - upper_normal(-z)
            return exp(-z * z / 2) * between ** (k - 1)

        return k * line(f, -w / 2, mpf(1) / (9 * fine)) / sqrt(2 * mp.pi)

    if nu == inf:
        return normal_range(q)
    c = 2 * (nu / 2) ** (nu / 2) / gamma(nu / 2)

    def f(x):
        s = exp(x)
        return s**nu * exp(-nu * s * s / 2) * normal_range(q * s)

    return c * line(f, mpf(0), min(mpf(1) / 12, mpf(2) / 5 / sqrt(2 * nu)) / fine)


def main():
    rows = [
        (2, 3, "0.5", 0), (2, 3, "40", 0), (2, 10, "3.1", 0), (3, 10, "3.877", 0), (4, 42, "0.3", 0), (4, 42, "3.78", 0),
        (4, 42, "12", 0), (5, "3.5", "2", 0), (5, 20, "1", 0), (10, 30, "4.82", 0), (30, 60, "6", 0), (100, 100, "6.5", 0),
        (100, 8, "9", 0), (100, 400, "3.5", 0), (3, inf, "3.314", 0), (20, inf, "5.01", 0), (100, inf, "6.9", 0),
        (2, inf, "1e-3", 0), (4, inf, "20", 50), (3, inf, "50", 280), (12, 15, "60", 20),
    ]
    print("# P(Q <= q) and P(Q >= q), 15 digits; made by range.py\n# groups\tdf\tq\tlower\tupper")
    for k, nu, q, more in rows:
        mp.dps = 36 + more
        nu, at = mpf(nu), mpf(q)
        coarse, fine = (lower(at, k, nu, n) for n in (1 + mpf(k + more) / 60, mpf(13) / 10 * (1 + mpf(k + more) / 60)))
        for a, b in ((coarse, fine), (1 - coarse, 1 - fine)):
            assert abs(a / b - 1) < mpf(10) ** -15, (k, nu, q, mp.nstr(a, 30), mp.nstr(b, 30))
        print(k, "inf" if nu == inf else mp.nstr(nu, 10), q, mp.nstr(fine, 19), mp.nstr(1 - fine, 19), sep="\t", flush=True)


if __name__ == "__main__":
    main()
