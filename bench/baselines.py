#!/usr/bin/env python3
"""What others take for the same pairs. Reads lists as 32-bit URL numbers, ten a list.

usage: baselines.py scipy|sqlite FILE MINIMUM
prints: pairs, seconds, and the peak of the process in MB before and after
"""
import resource, sys, time
import numpy


def peak():
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


kind, path, least = sys.argv[1], sys.argv[2], int(sys.argv[3])
urls = numpy.fromfile(path, dtype=numpy.int32)
count = len(urls) // 10
if kind == "scipy":
    from scipy.sparse import csr_matrix, triu

    before, start = peak(), time.perf_counter()
    a = csr_matrix((numpy.ones(len(urls), dtype=numpy.int32), urls, numpy.arange(0, len(urls) + 1, 10)))
    product = a @ a.T
    product.data[product.data < least] = 0
    product.eliminate_zeros()
    pairs = triu(product, k=1).nnz
else:
    import sqlite3

    db = sqlite3.connect(":memory:")
    db.execute("create table result (keyword integer, url integer)")
    db.executemany("insert into result values (?, ?)", ((i // 10, int(u)) for i, u in enumerate(urls)))
    before, start = peak(), time.perf_counter()
    db.execute("create index by_url on result (url, keyword)")
    pairs = db.execute(
        "select count(*) from (select 1 from result a join result b on b.url = a.url and b.keyword > a.keyword group by a.keyword, b.keyword having count(*) >= ?)",
        (least,)).fetchone()[0]
print(pairs, time.perf_counter() - start, before, peak())
