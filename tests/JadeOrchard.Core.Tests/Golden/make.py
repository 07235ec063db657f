#!/usr/bin/env python3
"""Makes the files beside this one with reference libraries. Run again by ./test where they are installed.

usage: make.py [--check]     with --check, fails where a file would change
"""
import pathlib, random, sys
import igraph, networkx, numpy, scipy
import sklearn, snowballstemmer
from scipy.cluster.hierarchy import fcluster, linkage
from scipy.optimize import linear_sum_assignment
from scipy.sparse import csr_matrix, triu
from scipy.stats import beta, binomtest, chi2_contingency, permutation_test
from sklearn.isotonic import IsotonicRegression
from sklearn.metrics import adjusted_rand_score, silhouette_samples

HERE = pathlib.Path(__file__).resolve().parent


def lists(count=10_000, urls=12_000, seed=7):
    """Result lists with skewed URL frequencies: neighbours draw from the same small pools."""
    draw = random.Random(seed)
    out = []
    for k in range(count):
        pool = (k // 8) * 9 % urls
        row = []
        while len(row) < 10:
            r = draw.random()
            url = draw.randrange(6) if r < 0.08 else (pool + draw.randrange(16)) % urls if r < 0.75 else draw.randrange(urls)
            if url not in row:
                row.append(url)
        out.append(row)
    return out


def overlap_pairs(rows, least):
    indptr = numpy.arange(0, 10 * len(rows) + 1, 10)
    a = csr_matrix((numpy.ones(10 * len(rows), dtype=numpy.int32), numpy.concatenate(rows), indptr))
    product = triu(a @ a.T, k=1).tocsr()
    product.sort_indices()
    coo = product.tocoo()
    keep = coo.data >= least
    return list(zip(coo.row[keep].tolist(), coo.col[keep].tolist(), coo.data[keep].tolist()))


def linkages(draw, keywords=8, cases=40):
    """Keywords of which every pair overlaps by another number, so that no two joins are alike; the groups at some minimum."""
    lines = []
    for _ in range(cases):
        overlaps = list(range(1, keywords * (keywords - 1) // 2 + 1))
        draw.shuffle(overlaps)
        least = draw.randint(2, len(overlaps))
        for method in ("complete", "single"):
            tree = linkage([len(overlaps) + 1 - o for o in overlaps], method)
            groups = fcluster(tree, len(overlaps) + 1 - least, "distance")
            lines.append(f"{method};{least};{' '.join(map(str, overlaps))};{' '.join(map(str, groups))}\n")
    return "".join(lines)


def silhouettes(rows, draw):
    """Of the first lists, in groups of eight some of which are mixed up; rounded, since the last digits are nobody's."""
    labels = [k // 8 if draw.random() < 0.8 else draw.randrange(60) for k in range(480)]
    sets = [set(r) for r in rows[:480]]
    distance = numpy.array([[0.0 if i == j else 1 - len(a & b) / 10 for j, b in enumerate(sets)] for i, a in enumerate(sets)])
    samples = silhouette_samples(distance, labels, metric="precomputed")
    return "".join(f"{label} {sample:.9f}\n" for label, sample in zip(labels, samples))


def rand_indexes(draw):
    lines = []
    for _ in range(40):
        n = draw.randint(2, 30)
        a = [draw.randrange(draw.randint(1, 8)) for _ in range(n)]
        b = [x if draw.random() < 0.6 else draw.randrange(5) for x in a]
        lines.append(f"{' '.join(map(str, a))};{' '.join(map(str, b))};{adjusted_rand_score(a, b):.12f}\n")
    return "".join(lines)


def wilson(draw):
    """Successes, trials and the bounds of the 95 % Wilson interval."""
    lines = []
    for n in [1, 2, 5, 10, 100, 2_000, 1_000_000]:
        for k in sorted({0, 1, n // 3, n - 1, n, draw.randint(0, n)}):
            interval = binomtest(k, n).proportion_ci(0.95, "wilson")
            lines.append(f"{k} {n} {interval.low:.12f} {interval.high:.12f}\n")
    return "".join(lines)


def shrunk(draw):
    """Prior share, queries, clicks and impressions of each, and the mean of the beta distribution after them, with a prior of 300 impressions."""
    lines = []
    for _ in range(30):
        prior, queries, impressions = draw.choice([0.28, 0.11, 0.04]), draw.randint(60, 200), draw.choice([100, 200, 400])
        clicks = round(impressions * prior * draw.uniform(0.8, 1.2))
        a, b = 300 * prior, 300 * (1 - prior)
        mean = beta(a + queries * clicks, b + queries * (impressions - clicks)).mean()
        lines.append(f"{prior} {queries} {clicks} {impressions} {mean:.12f}\n")
    return "".join(lines)


def swaps(draw):
    """Which of two pages was best day by day, for one to three keywords, and how often as many changes come about in another order of the days."""
    lines = []
    for case in range(30):
        days, keywords = draw.randint(9, 16), draw.randint(1, 3)
        turn = draw.choice([0.5, 0.8, 0.95, 1])
        series = []
        for _ in range(keywords):
            side, row = 0, []
            for _ in range(days):
                side = 1 - side if draw.random() < turn else side
                row.append(side)
            series.append(row)
        at = numpy.array(series)

        def changes(order, axis=-1):
            sides = at[:, numpy.moveaxis(order, axis, -1).astype(int)]
            return (numpy.diff(sides, axis=-1) != 0).sum(axis=(0, -1))

        p = permutation_test((numpy.arange(days),), changes, permutation_type="pairings", vectorized=True, n_resamples=4999, alternative="greater", random_state=case).pvalue
        lines.append(f"{' '.join(''.join(map(str, row)) for row in series)};{p:.4f}\n")
    return "".join(lines)


def isotonic(draw):
    """Positions, shares and weights, with ties among the positions; and what a non-increasing fit makes of them at each."""
    lines = []
    for _ in range(40):
        n = draw.randint(1, 40)
        x = [draw.randint(10, 120) / 10 for _ in range(n)]
        y = [max(0.0, round(0.3 / p + draw.uniform(-0.08, 0.08), 4)) for p in x]
        w = [draw.randint(1, 500) for _ in range(n)]
        fit = IsotonicRegression(increasing=False, out_of_bounds="clip").fit(x, y, sample_weight=w)
        probes = sorted({round(min(x) + (max(x) - min(x)) * i / 7, 6) for i in range(8)})
        lines.append(";".join([" ".join(map(str, v)) for v in (x, y, w, probes)] + [" ".join(f"{v:.9f}" for v in fit.predict(probes))]) + "\n")
    return "".join(lines)


# Porter, "An algorithm for suffix stripping", 1980: the examples of its steps, and words of the demo's trade.
WORDS = """caresses ponies ties caress cats feed agreed plastered bled motoring sing conflated troubled sized hopping tanned falling hissing fizzed
failing filing happy sky relational conditional rational valenci hesitanci digitizer conformabli radicalli differentli vileli analogousli vietnamization predication
operator feudalism decisiveness hopefulness callousness formaliti sensitiviti sensibiliti triplicate formative formalize electriciti electrical hopeful goodness revival
allowance inference airliner gyroscopic adjustable defensible irritant replacement adjustment dependent adoption homologou communism activate angulariti homologous
effective bowdlerize probate rate cease controll roll kayak kayaks kayaking kayaker paddling paddles paddled canoes canoeing inflatable inflatables rolling touring
storage carriers roofs racks buoyancy aids trolleys drying washing repairing repaired cheapest lightest beginners explained compared sizes sizing weights lengths
weather tides currents rescues rescued licences insurance clubs hiring sales prices fitted fitting leashes decks skegs rudders""".split()


def stems():
    stemmer = snowballstemmer.stemmer("porter")
    return "".join(f"{word} {stemmer.stemWord(word)}\n" for word in WORDS)


def snowball():
    """Language, word and stem, of words about the demo's subject."""
    words = {
        "ru": ("russian", "байдарка байдарки байдарками весло весла веслом лодка лодок лодками морской морская плавание плавания спасательный спасательные жилет жилеты"),
        "hu": ("hungarian", "kajak kajakok kajakkal evező evezők evezőlapát hajó hajók hajóval tenger tengeri mentőmellény mentőmellények"),
        "ro": ("romanian", "caiac caiace caiacul vâslă vâsle barcă bărci mare marea vestă veste salvare salvarea"),
        "tr": ("turkish", "kano kanolar kanoları kürek kürekler kürekle deniz denizde denizler yelek yelekler"),
        "sv": ("swedish", "kajak kajaker kajakerna paddel paddlar paddlarna flytväst flytvästar havet"),
        "fi": ("finnish", "kajakki kajakit kajakilla mela melat meloilla meri merellä pelastusliivi pelastusliivit"),
    }
    return "".join(f"{code} {word} {snowballstemmer.stemmer(name).stemWord(word)}\n" for code, (name, text) in words.items() for word in text.split())


def communities():
    """Graphs that come with networkx, at several resolutions; for each the best of igraph's 20 runs of Leiden with the constant Potts model, and its quality."""
    davis = networkx.davis_southern_women_graph()
    women = davis.graph["top"]
    lines = ["women;" + ";".join(" ".join(str(davis.graph["bottom"].index(e)) for e in sorted(davis[w])) for w in women) + "\n"]
    graphs = {
        "Zachary's karate club": (networkx.Graph(networkx.karate_club_graph().edges()), [0.02, 0.05, 0.1, 0.2, 0.5]),
        "Davis's Southern women, by events in common": (networkx.bipartite.weighted_projected_graph(davis, women), [1, 2, 3]),
        "Les Misérables": (networkx.les_miserables_graph(), [0.05, 0.2, 0.5, 1, 3]),
    }
    for name, (graph, resolutions) in graphs.items():
        place = {node: i for i, node in enumerate(women if "women" in name else graph.nodes())}
        edges = sorted((min(place[a], place[b]), max(place[a], place[b]), d.get("weight", 1)) for a, b, d in graph.edges(data=True))
        given = igraph.Graph(n=len(place), edges=[(a, b) for a, b, _ in edges])
        for resolution in resolutions:
            best = None
            for seed in range(20):
                igraph.set_random_number_generator(random.Random(seed))
                found = given.community_leiden(objective_function="CPM", weights=[w for _, _, w in edges], resolution_parameter=resolution, n_iterations=-1).membership
                quality = sum(w for a, b, w in edges if found[a] == found[b]) - sum(resolution * n * (n - 1) / 2 for n in map(found.count, set(found)))
                if best is None or quality > best[0] + 1e-9:
                    best = quality, found
            lines.append(";".join([name, str(resolution), " ".join(f"{a} {b} {w}" for a, b, w in edges), " ".join(map(str, best[1])), f"{best[0]:.9f}"]) + "\n")
    return "".join(lines)


def casefolding():
    """Code points and their full case folding, of Unicode's CaseFolding.txt (Debian's unicode-data)."""
    lines = []
    for line in open("/usr/share/unicode/CaseFolding.txt", encoding="utf-8"):
        parts = [p.strip() for p in line.split("#")[0].split(";")]
        if len(parts) > 2 and parts[1] in "CF":
            lines.append(f"{parts[0]};{parts[2]}\n")
    return "".join(lines)


def topological(draw):
    """Gains per hour, pairs of which the first comes before the second, and networkx's order: of those that are free the greatest first."""
    lines = []
    for _ in range(60):
        n = draw.randint(1, 25)
        ratios = [draw.randint(0, 12) for _ in range(n)]
        place = list(range(n))
        draw.shuffle(place)
        pairs = sorted({(a, b) for a, b in ((draw.randrange(n), draw.randrange(n)) for _ in range(draw.randint(0, 2 * n))) if place[a] < place[b]})
        graph = networkx.DiGraph(pairs)
        graph.add_nodes_from(range(n))
        order = networkx.lexicographical_topological_sort(graph, key=lambda i: (-ratios[i], i))
        lines.append(f"{' '.join(map(str, ratios))};{' '.join(f'{a}-{b}' for a, b in pairs)};{' '.join(map(str, order))}\n")
    return "".join(lines)


def likelihood(draw):
    """Counts of a term in two sets of pages, with G² of the 2 × 2 table."""
    lines = []
    for _ in range(200):
        n1, n2 = draw.randint(1, 40), draw.randint(1, 4000)
        k1, k2 = draw.randint(0, n1), draw.choice([0, draw.randint(0, n2), draw.randint(0, min(n2, 30))])
        if k1 + k2 in (0, n1 + n2):
            continue
        g2 = chi2_contingency([[k1, n1 - k1], [k2, n2 - k2]], correction=False, lambda_="log-likelihood")[0]
        lines.append(f"{k1} {n1} {k2} {n2} {g2:.8f}\n")
    return "".join(lines)


def rates(draw):
    """Counts now and before, how many times as much is expected now, and the lower tail of the conditional test."""
    from scipy.stats import binom
    lines = []
    for _ in range(200):
        most = draw.choice([5, 50, 1_000, 100_000])
        now, before, ratio = draw.randint(0, most), draw.randint(0, most), round(draw.uniform(0.1, 5), 3)
        lines.append(f"{now} {before} {ratio} {binom.cdf(now, now + before, ratio / (1 + ratio)):.12g}\n")
    return "".join(lines)


def kendall(draw):
    """Series, Kendall's tau b with time."""
    from scipy.stats import kendalltau
    lines = []
    for _ in range(60):
        values = [draw.randint(0, draw.choice([3, 20, 1_000])) + draw.choice([0, 1]) * i for i in range(draw.randint(8, 48))]
        tau = kendalltau(range(len(values)), values).statistic
        lines.append(f"{' '.join(map(str, values))};{0 if tau != tau else tau:.10f}\n")
    return "".join(lines)


def nonnegative(draw):
    """Columns, a target, and the weights of scipy's non-negative least squares."""
    import numpy
    from scipy.optimize import nnls
    lines = []
    for _ in range(60):
        height = draw.randint(5, 56)
        width = draw.randint(1, min(12, height))
        columns = [[draw.randint(0, 40) for _ in range(height)] for _ in range(width)]
        target = [sum(c[i] * draw.choice([0, 0.3, 0.5]) for c in columns) + draw.randint(0, 20) for i in range(height)]
        weights, _ = nnls(numpy.array(columns, dtype=float).T, numpy.array(target, dtype=float))
        lines.append("|".join(" ".join(map(str, c)) for c in columns) + ";" + " ".join(f"{t:.6g}" for t in target) + ";" + " ".join(f"{w:.8f}" for w in weights) + "\n")
    return "".join(lines)


def logistic(draw):
    """A ridge, rows, outcomes, and the intercept and coefficients of scikit-learn's logistic regression, which holds back by C = 1 / ridge."""
    import numpy
    from sklearn.linear_model import LogisticRegression
    lines = []
    for _ in range(30):
        width, ridge = draw.randint(1, 6), draw.choice([0.1, 1, 1, 5])
        true = [draw.uniform(-2, 2) for _ in range(width)]
        rows = [[round(draw.choice([draw.gauss(0, 2), draw.randint(0, 3)]), 3) for _ in range(width)] for _ in range(draw.randint(20, 120))]
        outcomes = [int(sum(t * x for t, x in zip(true, row)) + draw.gauss(0.5, 2) > 0) for row in rows]
        if len(set(outcomes)) < 2:
            outcomes[0] = 1 - outcomes[0]
        fit = LogisticRegression(C=1 / ridge, tol=1e-10, max_iter=10_000).fit(numpy.array(rows), outcomes)
        lines.append(f"{ridge};" + "|".join(" ".join(map(str, r)) for r in rows) + ";" + "".join(map(str, outcomes)) + ";" + " ".join(f"{w:.7f}" for w in [fit.intercept_[0], *fit.coef_[0]]) + "\n")
    return "".join(lines)


def main():
    rows = lists()
    files = {"lists.txt": "".join(" ".join(map(str, r)) + "\n" for r in rows)}

    pairs = sorted(overlap_pairs(rows, 3))
    checksum = 0
    for a, b, n in pairs:
        checksum = (checksum * 31 + (a * 1_000_003 + b) * 11 + n) % 2**64
    files["pairs.txt"] = f"{len(pairs)} {sum(p[2] for p in pairs)} {checksum}\n"

    graph = networkx.Graph((a, b) for a, b, n in pairs if n >= 4)
    files["components.txt"] = "".join(sorted(" ".join(map(str, sorted(c))) + "\n" for c in networkx.connected_components(graph)))

    draw = random.Random(11)
    lines = []
    for _ in range(60):
        height, width = draw.randint(1, 9), draw.randint(1, 9)
        worth = [[draw.choice([0, 0, draw.randint(1, 100)]) for _ in range(width)] for _ in range(height)]
        r, c = linear_sum_assignment(worth, maximize=True)
        total = sum(worth[i][j] for i, j in zip(r, c))
        lines.append(f"{height} {width};{' '.join(str(w) for row in worth for w in row)};{total}\n")
    files["assignments.txt"] = "".join(lines)
    files["linkages.txt"] = linkages(random.Random(13))
    files["silhouettes.txt"] = silhouettes(rows, random.Random(17))
    files["rand.txt"] = rand_indexes(random.Random(19))
    files["communities.txt"] = communities()
    files["wilson.txt"] = wilson(random.Random(23))
    files["isotonic.txt"] = isotonic(random.Random(29))
    files["shrunk.txt"] = shrunk(random.Random(31))
    files["topological.txt"] = topological(random.Random(41))
    files["likelihood.txt"] = likelihood(random.Random(43))
    files["rates.txt"] = rates(random.Random(47))
    files["kendall.txt"] = kendall(random.Random(53))
    files["nnls.txt"] = nonnegative(random.Random(59))
    files["logistic.txt"] = logistic(random.Random(61))
    files["swaps.txt"] = swaps(random.Random(37))
    files["snowball.txt"] = snowball()
    files["casefolding.txt"] = casefolding()
    files["stems.txt"] = stems()
    files["versions.txt"] = "made with scipy 1.10.1, networkx 2.8.8, igraph 0.10.2, scikit-learn 1.2.1 and snowballstemmer 2.2.0 (Debian 12)\n"

    if "--check" in sys.argv:
        changed = [n for n, text in files.items() if (HERE / n).read_text() != text]
        print(f"scipy {scipy.__version__}, networkx {networkx.__version__}, scikit-learn {sklearn.__version__}: " + (f"changed: {changed}" if changed else "nothing changed"))
        return 1 if changed else 0
    for name, text in files.items():
        (HERE / name).write_text(text)


if __name__ == "__main__":
    sys.exit(main())
