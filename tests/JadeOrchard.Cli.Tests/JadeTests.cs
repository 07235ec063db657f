using System.Globalization;

namespace JadeOrchard.Cli.Tests;

public sealed class JadeTests : IDisposable
{
    private readonly Jade _jade = new();

    public void Dispose() => _jade.Dispose();

    [Fact]
    public void PairsAndClustersAgreeWithAnIndependentComputationOnHostileStrings()
    {
        var (keywords, lists) = HostileProject(1_500, seed: 3);
        WriteProject(keywords, lists);
        Assert.Equal(0, _jade.Run("overlap", "--results", "results.csv", "--min-overlap", "3", "--raw-urls", "--out", "pairs.csv").Status);
        Assert.Equal(0, _jade.Run("cluster", "--keywords", "keywords.csv", "--results", "results.csv", "--min-overlap", "3", "--raw-urls", "--out", "clusters.csv").Status);

        var expected = new List<(string A, string B, int Count)>();
        foreach (var (a, listA) in lists)
        {
            foreach (var (b, listB) in lists)
            {
                var shared = string.CompareOrdinal(a, b) < 0 ? listA.Intersect(listB).Count() : 0;
                if (shared >= 3)
                    expected.Add((a, b, shared));
            }
        }

        expected.Sort((x, y) => x.A != y.A ? string.CompareOrdinal(x.A, y.A) : string.CompareOrdinal(x.B, y.B));
        var found = _jade.Read("pairs.csv");
        Assert.Equal(["keyword_a", "keyword_b", "overlap"], found[0]);
        Assert.Equal(expected.Select(p => $"{p.A}|{p.B}|{p.Count}"), found.Skip(1).Select(r => string.Join('|', r)));

        var clusters = _jade.Read("clusters.csv");
        Assert.Equal(["cluster", "primary", "keyword", "volume", "overlap_with_primary", "fit", "weak", "bridge_to", "margin", "unsettled"], clusters[0]);
        Assert.Equal(lists.Keys.Order(StringComparer.Ordinal), clusters.Skip(1).Select(r => r[2]).Order(StringComparer.Ordinal));
        Assert.Equal(PrimaryOfEach(keywords, lists, 3), clusters.Skip(1).ToDictionary(r => r[2], r => r[1]).OrderBy(p => p.Key, StringComparer.Ordinal));
        foreach (var row in clusters.Skip(1))
        {
            Assert.Equal(keywords[row[2]], long.Parse(row[3], CultureInfo.InvariantCulture));
            Assert.Equal(lists[row[1]].Intersect(lists[row[2]]).Count(), int.Parse(row[4], CultureInfo.InvariantCulture));
        }
    }

    /// <summary>A file without quotes is read from its bytes; with one in its header it is read as any other, and with one further down from there on.</summary>
    [Theory]
    [InlineData(1, "\n")]
    [InlineData(2, "\r\n")]
    [InlineData(3, "\n")]
    public void AFileWithoutQuotesSaysTheSameAsOneWithThem(int seed, string lineEnd)
    {
        var random = new Random(seed);
        string Any(params string[] some) => some[random.Next(some.Length)];
        var rows = Enumerable.Range(0, 600).Select(i => random.Next(12) switch
        {
            0 => "",
            1 => $"kayak {i % 40}",
            2 => $",{i % 9 + 1},https://a.example/",
            3 => $"kayak {i % 40},{Any("0", "1001", "x", " 3 ", "03", "1 000", "")},https://a.example/{i % 5}",
            4 => $"kayak {i % 40},2,{Any("nothing", "ftp://a.example", "", " ", "https://A.example:443/x/", "http://www.a.example/1#part")}",
            5 => $"kayak {i % 40},3,https://a.example/{i % 7},title,snippet,2026-11-0{i % 9 + 1},{Any("", "more", ",,")}",
            6 => $"kayak {i % 40},4,https://a.example/{i % 7},{Any("title", "ti\0tle")},\uFDD0,{Any("2026-11-01", "yesterday", "")}",
            7 => $"{Any("Kayak  ", "  kayak", "KAYAK", "ka\u200Byak", "kajak ö", "?")} {i % 40},5,https://a.example/{i % 7}",
            _ => $"kayak {i / 8},{i % 10 + 1},https://{Any("www.", "")}a.example/{i % 7},{Any("", "", "", "\0")},{Any("", "x")},{Any("2026-11-01", "2026-11-01", "2026-11-02T08:00:00Z")}",
        });
        // The character ÿ is for a byte that is no UTF-8.
        byte[] plain = [.. System.Text.Encoding.UTF8.GetBytes(string.Join(lineEnd, rows.Prepend("keyword,position,url,title,snippet,captured_at")).Replace("\uFDD0", "\u00FF", StringComparison.Ordinal))];
        for (var at = 0; at + 1 < plain.Length; at++)
        {
            if (plain[at] == 0xC3 && plain[at + 1] == 0xBF)
                plain[at + 1] = 0xFF;
        }

        File.WriteAllBytes(_jade.Path("plain.csv"), plain);
        File.WriteAllBytes(_jade.Path("quoted.csv"), [.. System.Text.Encoding.UTF8.GetBytes("\"keyword\""), .. plain.AsSpan(plain.AsSpan().IndexOf((byte)','))]);
        var row = plain.AsSpan().IndexOf("\nkayak 20,"u8) + 1;
        File.WriteAllBytes(_jade.Path("later.csv"), [.. plain.AsSpan(0, row), .. "\"kayak 20\""u8, .. plain.AsSpan(row + 8)]);
        foreach (var name in new[] { "quoted", "plain", "later" })
        {
            Assert.Equal(0, _jade.Run("overlap", "--results", $"{name}.csv", "--min-overlap", "1", "--out", $"{name}.pairs.csv", "--rejects", $"{name}.rejects.csv").Status);
            Assert.Equal(File.ReadAllText(_jade.Path("quoted.pairs.csv")), File.ReadAllText(_jade.Path($"{name}.pairs.csv")));
            Assert.Equal(File.ReadAllText(_jade.Path("quoted.rejects.csv")).Replace("quoted.csv", $"{name}.csv", StringComparison.Ordinal), File.ReadAllText(_jade.Path($"{name}.rejects.csv")));
        }

        Assert.True(_jade.Read("plain.pairs.csv").Count > 50 && _jade.Read("plain.rejects.csv").Count > 50);
    }

    [Theory]
    [InlineData("every-pair")]
    [InlineData("chain")]
    public void OtherRulesAndHowTheyDifferAreToldInFiles(string rule)
    {
        var (keywords, lists) = HostileProject(400, seed: 5);
        WriteProject(keywords, lists);
        _jade.Run("cluster", "--keywords", "keywords.csv", "--results", "results.csv", "--min-overlap", "3", "--raw-urls", "--out", "a.csv");
        _jade.Run("cluster", "--keywords", "keywords.csv", "--results", "results.csv", "--min-overlap", "3", "--rule", rule, "--raw-urls", "--out", "b.csv");
        foreach (var row in _jade.Read("b.csv").Skip(1))
            Assert.Equal(double.Parse(row[5], CultureInfo.InvariantCulture) < 0 ? "yes" : "no", row[6]);
        var same = _jade.Run("compare", "a.csv", "a.csv");
        Assert.StartsWith("adjusted Rand index 1.0000 over ", same.Output, StringComparison.Ordinal);
        Assert.Contains(" 0 moved, 0 clusters split, 0 merged;", same.Output, StringComparison.Ordinal);
        Assert.Equal(0, _jade.Run("compare", "a.csv", "b.csv", "--out", "changes.csv").Status);
        Assert.Equal(["change", "keyword", "from", "to"], _jade.Read("changes.csv")[0]);

        Assert.Equal(0, _jade.Run("sensitivity", "--keywords", "keywords.csv", "--results", "results.csv", "--raw-urls", "--out", "s.csv").Status);
        var table = _jade.Read("s.csv");
        Assert.Equal(["rule", "min_overlap", "clusters", "singleton_share", "largest", "mean_cohesion"], table[0]);
        Assert.Equal(30, table.Count - 1);
        var clusters = _jade.Read("b.csv").Skip(1).GroupBy(r => r[0]).Select(g => g.Count()).ToList();
        Assert.Equal([$"{clusters.Count}", $"{clusters.Max()}"], table.Single(r => r[0] == rule && r[1] == "3").Where((_, i) => i is 2 or 4));
    }

    [Fact]
    public void TwoFilesThatCannotBeComparedSayWhy()
    {
        _jade.Write("a.csv", "cluster,keyword\n1,kayak\n");
        _jade.Write("b.csv", "cluster,keyword\n1,kayak\n2,kayak\n");
        Assert.Equal((2, "jade: b.csv, line 3: 'kayak' is in the file twice; a keyword has one cluster.\n"), (_jade.Run("compare", "a.csv", "b.csv").Status, _jade.Run("compare", "a.csv", "b.csv").Error));
        _jade.Write("c.csv", "keyword\nkayak\n");
        Assert.Contains("there is no column named cluster", _jade.Run("compare", "a.csv", "c.csv").Error, StringComparison.Ordinal);
    }

    [Fact]
    public void TheOrderOfRowsDoesNotChangeTheFile()
    {
        var (keywords, lists) = HostileProject(300, seed: 8);
        WriteProject(keywords, lists);
        _jade.Run("cluster", "--keywords", "keywords.csv", "--results", "results.csv", "--raw-urls", "--out", "straight.csv");
        WriteProject(keywords.Reverse().ToDictionary(), lists.Reverse().ToDictionary());
        _jade.Run("cluster", "--keywords", "keywords.csv", "--results", "results.csv", "--raw-urls", "--out", "reversed.csv");
        Assert.Equal(File.ReadAllBytes(_jade.Path("straight.csv")), File.ReadAllBytes(_jade.Path("reversed.csv")));
    }

    /// <summary>Equal volumes, titles, positions and clicks leave much to be decided between equals.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void TheOrderOfRowsDoesNotChangeMapAndFindings(int seed)
    {
        var random = new Random(seed);
        string[] things = ["dry suit", "paddle", "tow line", "deck bag"];
        var keywords = Enumerable.Range(0, 48).Select(k => new object?[] { $"{(k % 5 == 0 ? "how to pack a " : "")}{things[k % 4]} {k}", 100 * random.Next(3) }).ToList();
        string Own(int page) => $"https://{(random.Next(2) == 0 ? "www." : "")}fenwater.example/{page}";
        var results = keywords.SelectMany((k, i) => Enumerable.Range(1, 10).Select(position => new object?[]
        {
            k[0], position, random.Next(4) == 0 ? Own(random.Next(12)) : $"https://r{(i % 12 * 3) + random.Next(14)}.example/",
        })).DistinctBy(r => (r[0], ((string)r[2]!).Replace("www.", "", StringComparison.Ordinal))).ToList();
        var pages = Enumerable.Range(0, 9).Select(p => new object?[] { $"https://fenwater.example/{p}", $"All about the {things[p % 4]}", "" }).ToList();
        var days = new DateOnly(2026, 9, 1);
        var performance = Enumerable.Range(0, 400).Select(_ => new object?[]
        {
            keywords[random.Next(keywords.Count)][0], Own(random.Next(14)), days.AddDays(random.Next(60)).ToString("O", CultureInfo.InvariantCulture), random.Next(3), 10, 1 + random.Next(15),
        }).DistinctBy(r => (r[0], ((string)r[1]!).Replace("www.", "", StringComparison.Ordinal), r[2])).ToList();

        (byte[] Map, byte[] Findings) Run(Func<List<object?[]>, IEnumerable<object?[]>> order)
        {
            _jade.WriteCsv("k.csv", ["keyword", "volume"], order(keywords));
            _jade.WriteCsv("r.csv", ["keyword", "position", "url"], order(results));
            _jade.WriteCsv("p.csv", ["url", "title", "text"], order(pages));
            _jade.WriteCsv("s.csv", ["query", "page", "date", "clicks", "impressions", "position"], order(performance));
            string[] inputs = ["--keywords", "k.csv", "--results", "r.csv", "--pages", "p.csv", "--performance", "s.csv", "--site", "fenwater.example"];
            Assert.Equal(0, _jade.Run(["map", .. inputs, "--out", "map.csv"]).Status);
            Assert.Equal(0, _jade.Run(["findings", .. inputs, "--out", "findings.csv"]).Status);
            return (File.ReadAllBytes(_jade.Path("map.csv")), File.ReadAllBytes(_jade.Path("findings.csv")));
        }

        var straight = Run(rows => rows);
        Assert.True(straight.Findings.Count(b => b == '\n') > 8);
        foreach (var other in new[] { Run(rows => rows.AsEnumerable().Reverse()), Run(rows => rows.OrderBy(_ => random.Next())) })
        {
            Assert.Equal(Text(straight.Map), Text(other.Map));
            Assert.Equal(Text(straight.Findings), Text(other.Findings));
        }

        static string Text(byte[] bytes) => System.Text.Encoding.UTF8.GetString(bytes);
    }

    [Fact]
    public void AKeywordAppearsAsItWasFirstGiven()
    {
        _jade.Write("k.csv", "keyword,volume\n  Sea KAYAK? ,10\nsea kayak,20\n\"=1+1\",5\n");
        _jade.Write("r.csv", "keyword,position,url\nsea kayak,1,https://a.example/\nSEA KAYAK,2,https://b.example/\n=1+1,1,https://a.example/\n=1+1,2,https://www.b.example\n");
        Assert.Equal(0, _jade.Run("cluster", "--keywords", "k.csv", "--results", "r.csv", "--min-overlap", "2", "--out", "c.csv").Status);
        Assert.Equal(["  Sea KAYAK? ", "=1+1"], _jade.Read("c.csv").Skip(1).Select(r => r[2]));
        Assert.Equal("20", _jade.Read("c.csv")[1][3]);
        Assert.Equal("2", _jade.Read("c.csv")[2][4]);

        Assert.Equal(0, _jade.Run("overlap", "--results", "r.csv", "--min-overlap", "2", "--out", "p.csv").Status);
        Assert.Equal(["=1+1", "sea kayak", "2"], _jade.Read("p.csv")[1]);
    }

    [Fact]
    public void RawUrlsAreNotFolded()
    {
        _jade.Write("r.csv", "keyword,position,url\na,1,https://x.example/\nb,1,http://www.x.example\na,2,not a url\nb,2,not a url\n");
        _jade.Run("overlap", "--results", "r.csv", "--min-overlap", "1", "--raw-urls", "--out", "raw.csv");
        Assert.Equal("1", _jade.Read("raw.csv")[1][2]);
        var folded = _jade.Run("overlap", "--results", "r.csv", "--min-overlap", "1", "--rejects", "rejects.csv", "--out", "folded.csv");
        Assert.Contains("2 rows rejected", folded.Output, StringComparison.Ordinal);
        Assert.Equal("1", _jade.Read("folded.csv")[1][2]);
        Assert.Equal(["r.csv", "4", "url", "Is not an http or https address.", "not a url"], _jade.Read("rejects.csv")[1]);
    }

    [Fact]
    public void PositionsBelowTheDepthDoNotCount()
    {
        _jade.Write("r.csv", "keyword,position,url\na,1,u1\na,2,u2\na,11,u3\nb,1,u1\nb,10,u2\nb,11,u3\n");
        _jade.Run("overlap", "--results", "r.csv", "--min-overlap", "1", "--raw-urls", "--out", "ten.csv");
        _jade.Run("overlap", "--results", "r.csv", "--min-overlap", "1", "--depth", "20", "--raw-urls", "--out", "twenty.csv");
        Assert.Equal("2", _jade.Read("ten.csv")[1][2]);
        Assert.Equal("3", _jade.Read("twenty.csv")[1][2]);
    }

    [Fact]
    public void MapAndFindingsFollowFromTheSameInputs()
    {
        _jade.Write("k.csv", "keyword,volume\ndry suit,1000\ndry suits,500\nroll a kayak,800\nfenwater shop,300\n");
        var rows = new List<object?[]>();
        foreach (var keyword in new[] { "dry suit", "dry suits" })
            rows.AddRange(List(keyword, "a", "https://www.fenwater.example/dry-suits", "b", "https://fenwater.example/guide", "c", "d", "e"));
        rows.AddRange(List("roll a kayak", "p", "q", "r", "s", "t"));
        rows.AddRange(List("fenwater shop", "https://fenwater.example/", "https://fenwater.example/guide", "y", "z", "x"));
        _jade.WriteCsv("r.csv", ["keyword", "position", "url"], rows);
        _jade.Write("p.csv", "url,title,h1\nhttps://fenwater.example/dry-suits,Dry suits,Dry suits\nhttps://fenwater.example/guide,Choosing a suit,Choosing\nhttps://fenwater.example/,Fenwater,Fenwater\n");
        string[] inputs = ["--keywords", "k.csv", "--results", "r.csv", "--pages", "p.csv", "--site", "fenwater.example"];

        Assert.Equal(0, _jade.Run(["map", .. inputs, "--out", "map.csv"]).Status);
        var map = _jade.Read("map.csv");
        Assert.Equal(["cluster", "primary", "page", "strength", "verdict"], map[0]);
        Assert.Equal(["1", "dry suit", "https://fenwater.example/dry-suits", "clear"], [map[1][0], map[1][1], map[1][2], map[1][4]]);
        Assert.Equal(["2", "roll a kayak", "", "none"], [map[2][0], map[2][1], map[2][2], map[2][4]]);

        Assert.Equal(0, _jade.Run(["findings", .. inputs, "--out", "findings.csv"]).Status);
        var findings = _jade.Read("findings.csv");
        Assert.Equal(["finding", "signs", "cluster", "keyword", "page", "other_pages", "at_stake", "confidence"], findings[0]);
        Assert.Equal(
            ["conflict [rivals-in-results] 1 https://fenwater.example/dry-suits https://fenwater.example/guide", "uncovered [no-page | absent] 2  "],
            findings.Skip(1).Select(f => $"{f[0]} [{f[1]}] {f[2]} {f[4]} {f[5]}"));

        // One row for each sign, and gaps of pages that are said to be assigned.
        Assert.Equal(0, _jade.Run(["findings", .. inputs, "--out", "findings.csv", "--signs", "signs.csv"]).Status);
        var signs = _jade.Read("signs.csv");
        Assert.Equal(["finding", "sign", "cluster", "other_cluster", "keyword", "page", "other_pages", "keywords", "at_stake"], signs[0]);
        Assert.Equal(["1 rivals-in-results", "2 no-page", "2 absent"], signs.Skip(1).Select(x => $"{x[0]} {x[1]}"));
        _jade.Write("map2.csv", "keyword,page\nroll a kayak,https://fenwater.example/guide\n");
        Assert.Equal(0, _jade.Run(["findings", .. inputs, "--out", "findings.csv", "--map", "map2.csv"]).Status);
        Assert.Contains(_jade.Read("findings.csv"), f => f[0] == "page-gap" && f[1].Contains("absent", StringComparison.Ordinal) && f[4] == "https://fenwater.example/guide");
    }

    /// <summary>Two captures of subjects that shade into each other: measured, and held by the clusters of the first.</summary>
    [Fact]
    public void ClustersHoldWhereResultsMerelyTremble()
    {
        var random = new Random(5);
        List<(string Keyword, double Subject)> keywords = [.. Enumerable.Range(0, 600).Select(i => ($"kw {i}", random.NextDouble() * 480))];
        List<int> Drawn(double subject, List<int> list)
        {
            while (list.Count < 10)
            {
                var url = (int)(subject + ((random.NextDouble() + random.NextDouble() + random.NextDouble() - 1.5) * 12));
                if (!list.Contains(url))
                    list.Add(url);
            }

            return list;
        }

        var first = keywords.ToDictionary(k => k.Keyword, k => Drawn(k.Subject, []));
        var second = keywords.ToDictionary(k => k.Keyword, k => Drawn(k.Subject, [.. first[k.Keyword].Where(_ => random.NextDouble() > 0.14)]));
        _jade.Write("k.csv", "keyword,volume\n" + string.Concat(keywords.Select((k, i) => $"{k.Keyword},{(i * 7919) % 1000}\n")));
        foreach (var (name, lists) in new[] { ("a.csv", first), ("b.csv", second) })
            _jade.Write(name, "keyword,position,url\n" + string.Concat(lists.SelectMany(l => l.Value.Select((u, i) => $"{l.Key},{i + 1},https://s.example/{u}\n"))));
        string[] Cluster(string results, params string[] more) => ["cluster", "--keywords", "k.csv", "--results", results, .. more];
        Assert.Equal(0, _jade.Run(Cluster("a.csv", "--out", "ca.csv")).Status);
        Assert.Equal(0, _jade.Run(Cluster("b.csv", "--out", "free.csv")).Status);
        Assert.Equal(0, _jade.Run(Cluster("b.csv", "--previous", "ca.csv", "--out", "held.csv")).Status);
        int Moved(string file) => int.Parse(System.Text.RegularExpressions.Regex.Match(_jade.Run("compare", "ca.csv", file).Output, @"; (\d+) moved").Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture);
        Assert.InRange(Moved("held.csv"), 0, 0.15 * keywords.Count);
        Assert.True(Moved("free.csv") > 2 * Moved("held.csv"));

        var (status, says, _) = _jade.Run("noise", "--results", "a.csv", "--results", "b.csv", "--keywords", "k.csv", "--out", "noise.csv");
        Assert.Equal(0, status);
        Assert.Matches(@"^Two captures of 600 keywords share [89]\.\d of 10 results; that alone could move about \d+ % of the keywords\. Grouped again from scratch, \d+(\.\d)? % of them change cluster; with --previous, \d+(\.\d)? %\.", says);
        Assert.Equal(["keyword", "shared", "of"], _jade.Read("noise.csv")[0]);
        Assert.Equal(601, _jade.Read("noise.csv").Count);
        Assert.Equal(2, _jade.Run("noise", "--results", "a.csv").Status);
        Assert.Equal(2, _jade.Run(Cluster("b.csv", "--rule", "chain", "--previous", "ca.csv", "--out", "x.csv")).Status);
    }

    [Fact]
    public void ClustersAreGatheredIntoTopics()
    {
        // Three topics of four clusters each, which share results of their topic; a site that ranks for everything.
        var (clusters, results) = (new System.Text.StringBuilder("cluster,keyword,volume\n"), new System.Text.StringBuilder("keyword,position,url\n"));
        for (var k = 0; k < 120; k++)
        {
            var (topic, cluster) = (k / 40, k / 10);
            clusters.Append(System.Globalization.CultureInfo.InvariantCulture, $"c{cluster},w{k},{200 - k}\n");
            foreach (var (url, i) in new[] { $"all.example/{k % 3}", $"t{topic}.example/{k % 4}", $"t{topic}.example/{4 + (k % 3)}", $"c{cluster}.example/a", $"c{cluster}.example/b", $"c{cluster}.example/{k % 5}" }.Select((u, i) => (u, i)))
                results.Append(System.Globalization.CultureInfo.InvariantCulture, $"w{k},{i + 1},https://{url}\n");
        }

        _jade.Write("c.csv", clusters.ToString());
        _jade.Write("r.csv", results.ToString());
        Assert.Equal("3 topics of 12 clusters.\n", _jade.Run("topics", "--clusters", "c.csv", "--results", "r.csv", "--out", "t.csv").Output);
        var topics = _jade.Read("t.csv");
        Assert.Equal(["topic", "theme", "cluster", "primary", "pillar"], topics[0]);
        Assert.All(topics.Skip(1).GroupBy(t => t[0]), g => Assert.Single(g.Select(t => int.Parse(t[2].AsSpan(1), System.Globalization.CultureInfo.InvariantCulture) / 4).Distinct()));
        Assert.Equal(3, topics.Count(t => t[4] == "yes"));
        Assert.Equal(2, _jade.Run("topics", "--clusters", "c.csv", "--results", "r.csv", "--resolution", "0", "--out", "t.csv").Status);
    }

    [Fact]
    public void APageWithOnlyAnonymousTrafficIsNotIdle()
    {
        _jade.Write("k.csv", "keyword,volume\nkayak,10\n");
        _jade.Write("r.csv", "keyword,position,url\nkayak,1,https://other.example/\n");
        _jade.Write("p.csv", "url,title\nhttps://f.example/seen,Canoe trips\nhttps://f.example/idle,Tents\n");
        _jade.Write("s.csv", "query,page,date,clicks,impressions,position\n,https://f.example/seen,2026-10-01,4,90,7\nbus,https://f.example/bus,2026-10-01,1,9,7\n");
        Assert.Equal(0, _jade.Run("findings", "--keywords", "k.csv", "--results", "r.csv", "--pages", "p.csv", "--performance", "s.csv", "--site", "f.example", "--out", "f.csv").Status);
        var idle = Assert.Single(_jade.Read("f.csv"), f => f[0] == "idle-pages");
        Assert.Equal("https://f.example/idle", idle[4]);
        Assert.Empty(idle[5]);
    }

    [Fact]
    public void ABrandThatIsTheSubjectSilencesNothing()
    {
        _jade.Write("k.csv", "keyword,volume\nkayak carts,900\nkayak dollies,400\n");
        string[] urls = ["https://kayak.example/carts", "https://kayak.example/dollies", "https://a.example/1", "https://a.example/2", "https://a.example/3"];
        _jade.WriteCsv("r.csv", ["keyword", "position", "url"], new[] { "kayak carts", "kayak dollies" }.SelectMany(k => urls.Select((u, i) => new object?[] { k, i + 1, u })));
        _jade.Write("p.csv", "url,title\nhttps://kayak.example/carts,Kayak carts\nhttps://kayak.example/dollies,Kayak dollies\nhttps://kayak.example/paddles,Kayak paddles\n");
        string[] Run(params string[] more) => [_jade.Run(["findings", "--keywords", "k.csv", "--results", "r.csv", "--pages", "p.csv", "--site", "kayak.example", "--out", "f.csv", .. more]).Output, .. _jade.Read("f.csv").Select(f => f[0])];
        var says = Run();
        Assert.Contains("conflict", says);
        Assert.Contains("'kayak' is in the titles of 100 % of the pages", says[0], StringComparison.Ordinal);
        Assert.DoesNotContain("conflict", Run("--confirmed-brand", "kayak"));
    }

    [Fact]
    public void AnyPhraseFindsItsPageWithoutBeingCaptured()
    {
        _jade.Write("p.csv", "url,title,h1,text\nhttps://f.example/dolly,Kayak dolly,Kayak dolly,A dolly carries a kayak\nhttps://f.example/licence,Do you need a licence?,Licence,You need a licence on rivers\nhttps://f.example/suits,Dry suits,Dry suits,Warm\n");
        _jade.Write("s.csv", "query,page,date,clicks,impressions,position\nwarm paddling,https://f.example/suits,2026-10-01,40,400,3\n");
        var (status, says, _) = _jade.Run("which", "--pages", "p.csv", "--performance", "s.csv", "--site", "f.example", "kayak dolly", "warm paddling", "tent", "Dry Suit");
        Assert.Equal(0, status);
        var rows = says.ReplaceLineEndings("\n").TrimEnd().Split('\n');
        Assert.Equal("phrase,page,strength,text,performance,facts", rows[0]);
        Assert.StartsWith("kayak dolly,https://f.example/dolly,", rows[1], StringComparison.Ordinal);
        Assert.Matches(@"^warm paddling,https://f\.example/suits,\d+(\.\d)?,\d?\.?\d*,0\.\d+,.*40 clicks of 400 impressions", rows[2]);
        Assert.Equal("tent,,0,,,no page of the site is about it", rows[3]);
        Assert.StartsWith("Dry Suit,https://f.example/suits,", rows[4], StringComparison.Ordinal);
        Assert.Equal(2, _jade.Run("which", "--pages", "p.csv", "--site", "f.example").Status);
        Assert.Equal("2 of 2 phrases have a page.\n", _jade.Run("which", "--pages", "p.csv", "--site", "f.example", "--out", "w.csv", "dolly", "licence").Output);
    }

    [Fact]
    public void TheClickCurveIsWrittenWithWhatItRestsOn()
    {
        // Every position from 1 to 10 gets half as many clicks again as by default, the brand all of them.
        var rows = Enumerable.Range(0, 200).Select(i => $"query {i},https://fenwater.example/{i % 9},2026-10-01,{(int)Math.Round(1.5 * 1_000 * Core.Results.ClickCurve.DefaultValues[i % 10])},1000,{1 + (i % 10)}\n");
        _jade.Write("p.csv", "query,page,date,clicks,impressions,position\n" + string.Concat(rows) + "fenwater shop,https://fenwater.example/,2026-10-01,90000,90000,9\n");
        Assert.Equal((0, "Fitted to 25700 clicks from 200 queries.\n"), (_jade.Run(["curve", "--performance", "p.csv", "--brand", "fenwater", "--out", "curve.csv"]) is var ran ? ran.Status : 0, ran.Output));
        var curve = _jade.Read("curve.csv");
        Assert.Equal(["position", "share", "queries", "weight_of_default"], curve[0]);
        Assert.Equal(21, curve.Count);
        Assert.Equal(["1", "20"], [curve[1][0], curve[1][2]]);
        Assert.InRange(double.Parse(curve[1][1], System.Globalization.CultureInfo.InvariantCulture), 0.41, 0.42);
        Assert.Equal(["20", "0.01", "0", "1"], curve[20]);
        _jade.Write("few.csv", "query,page,date,clicks,impressions,position\na,https://f.example/,2026-10-01,9,10,1\n");
        Assert.StartsWith("The default: 9 clicks from 1 queries are too few", _jade.Run(["curve", "--performance", "few.csv", "--out", "curve.csv"]).Output, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("overlap --results none.csv --out x.csv", "there is no such file")]
    [InlineData("overlap --results k.csv --out x.csv", "no column named position")]
    [InlineData("overlap --out x.csv", "--results")]
    [InlineData("overlap --results k.csv --min-overlap 11 --out x.csv", "Minimum overlap")]
    [InlineData("overlap --results k.csv --depth ten --out x.csv", "ten")]
    [InlineData("cluster --keywords k.csv --results k.csv --rule best --out x.csv", "--rule must be")]
    [InlineData("map --keywords k.csv --results r.csv --pages k.csv --site / --out x.csv", "--site")]
    [InlineData("overlap --results r.csv --out no/such/folder/x.csv", "no/such/folder")]
    [InlineData("frobnicate", "frobnicate")]
    public void ErrorsAreOneLineAndStatusTwo(string arguments, string says)
    {
        _jade.Write("k.csv", "keyword,volume\nkayak,5\n");
        _jade.Write("r.csv", "keyword,position,url\na,1,https://x.example/\n");
        var (status, _, error) = _jade.Run(arguments.Split(' '));
        Assert.Equal(2, status);
        Assert.Contains(says, error, StringComparison.Ordinal);
        Assert.Equal(1, error.Count(c => c == '\n'));
    }

    private static IEnumerable<object?[]> List(string keyword, params string[] urls) => urls.Select((url, i) =>
        new object?[] { keyword, i + 1, url.Contains("://", StringComparison.Ordinal) ? url : $"https://{url}.example/" });

    /// <summary>Keywords with all that can go wrong in a CSV file, a spreadsheet or a comparison; all normal forms differ.</summary>
    private static (Dictionary<string, long> Keywords, Dictionary<string, string[]> Lists) HostileProject(int count, int seed)
    {
        string[] hostile = ["\"", ",", "\n", "=1+1", "'; drop table", "\ud83d\udef6", "é", "e\u0301", "\u4e2d", "ß", "Я", "<b>", "\\", "%s", "null", "\t", "|"];
        var random = new Random(seed);
        var keywords = new Dictionary<string, long>(StringComparer.Ordinal);
        var lists = new Dictionary<string, string[]>(StringComparer.Ordinal);
        for (var k = 0; k < count; k++)
        {
            var keyword = $"{hostile[random.Next(hostile.Length)]}k{k}{hostile[random.Next(hostile.Length)]}x";
            keywords[keyword] = random.Next(40);
            var near = k / 6 * 7;
            lists[keyword] = [.. Enumerable.Range(0, 10).Select(_ => $"u{hostile[random.Next(4)]}{(random.Next(9) == 0 ? random.Next(3) : near + random.Next(14))}").Distinct()];
        }

        return (keywords, lists);
    }

    private void WriteProject(Dictionary<string, long> keywords, Dictionary<string, string[]> lists)
    {
        _jade.WriteCsv("keywords.csv", ["keyword", "volume"], keywords.Select(k => new object?[] { k.Key, k.Value }));
        _jade.WriteCsv("results.csv", ["keyword", "position", "url"], lists.SelectMany(l => l.Value.Select((url, i) => new object?[] { l.Key, i + 1, url })));
    }

    /// <summary>The primary rule, written down once more as plainly as it is told.</summary>
    private static IEnumerable<KeyValuePair<string, string>> PrimaryOfEach(Dictionary<string, long> keywords, Dictionary<string, string[]> lists, int min)
    {
        string Form(string keyword) => Core.Keywords.KeywordNormalForm.Of(keyword);
        var order = lists.Keys.OrderByDescending(k => keywords[k]).ThenBy(Form, StringComparer.Ordinal).ToList();
        int Shared(string a, string b) => lists[a].Intersect(lists[b]).Count();
        var primaries = new List<string>();
        var taken = new HashSet<string>(StringComparer.Ordinal);
        foreach (var keyword in order)
        {
            if (!taken.Add(keyword))
                continue;
            primaries.Add(keyword);
            foreach (var other in order.Where(o => !taken.Contains(o) && Shared(keyword, o) >= min).ToList())
                taken.Add(other);
        }

        return lists.Keys.ToDictionary(k => k, k => primaries.Contains(k) ? k : primaries
            .OrderByDescending(p => Shared(p, k))
            .ThenByDescending(p => Math.Round(RankBiasedOverlap(lists[p], lists[k]), 9))
            .ThenBy(p => order.IndexOf(p))
            .First()).OrderBy(p => p.Key, StringComparer.Ordinal);
    }

    /// <summary>Equation 32 of Webber, Moffat and Zobel, 2010, by counting each depth again.</summary>
    private static double RankBiasedOverlap(string[] a, string[] b)
    {
        const double p = 0.9;
        var (shorter, longer) = a.Length <= b.Length ? (a, b) : (b, a);
        int s = shorter.Length, l = longer.Length;
        double At(int depth) => longer.Take(depth).Intersect(shorter.Take(depth)).Count();
        var sum = Enumerable.Range(1, l).Sum(d => At(d) / d * Math.Pow(p, d));
        sum += Enumerable.Range(s + 1, l - s).Sum(d => At(s) * (d - s) / ((double)s * d) * Math.Pow(p, d));
        return ((1 - p) / p * sum) + ((((At(l) - At(s)) / l) + (At(s) / s)) * Math.Pow(p, l));
    }
}
