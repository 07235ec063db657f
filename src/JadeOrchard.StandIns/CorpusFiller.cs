using System.Globalization;

namespace JadeOrchard.StandIns;

/// <summary>Writes the longer parts of pages: what is in stock, what was tested, the log of trips, news, and replies. Nobody and nothing in it exists.</summary>
internal static class CorpusFiller
{
    private static readonly string[] Models = ["Harrowick", "Dunvale", "Merrowby", "Ostrand", "Kelbry", "Tolvane", "Brackwen", "Fenlow", "Sandrick", "Corvale", "Wrenlock", "Pellard", "Ashbrig", "Hollin", "Strathby", "Morvale", "Quennick", "Tarrow"];
    private static readonly string[] People = ["Marnie", "Oskar", "Pia", "Tam", "Jorun", "Bea", "Callum", "Nell", "Ravi", "Ines", "Hamish", "Lotte", "Owen", "Sigrid", "Dev", "Una"];
    private static readonly string[] Landings = ["Gull Slip", "the old pier at Harne", "Sandy Geo", "Port Ellary", "the ferry steps", "Loch Marrin", "the weir at Tolbridge", "Skerry Bay", "the lifeboat station", "Brig Point", "the estuary car park", "Witches' Haven"];
    private static readonly string[] Months = ["January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"];
    private static readonly string[] Winds = ["a light breeze from the north", "force three from the west", "hardly any wind", "gusts off the hill", "a steady force four", "fog until ten", "low swell and sun", "rain that came sideways", "frost on the deck"];
    private static readonly string[] Colours = ["red over white", "sea green", "mustard", "dark blue", "grey", "orange", "sand"];

    private static readonly string[] Verdicts =
    [
        "Two of us would buy it again and one would not.", "The maker sent a spare within {n} days and asked no questions.", "It came {o} of nine for price and {o} for finish.", "On our scales it was {g} grams above the list.",
        "The instructions are one page, and right.", "After a night at minus two everything still moved.", "A scratch from the slip at Harne is all that {n} outings left on it.", "{who} gave it back last and unwillingly.",
        "The smaller of the two sizes fitted three of the four of us.", "It dried overnight over a chair.", "With cold hands it takes {n} seconds longer than the winner.", "The price fell by {n} pounds while we were testing.",
        "Spares are listed, and the list is short.", "We left it in the van for a week in July; nothing warped.", "What we would change is the colour.", "Nobody named it first, and nobody named it last.",
    ];

    private static readonly string[] Doings =
    [
        "{who} launched at {t} and was back before the kettle", "{who} and {who2} went as far as the light and turned", "the evening group of {n} stayed inside the harbour", "{who} tried it {n} times and had it twice",
        "{who} carried everything in one go, which saved the second walk", "a family of {n} joined at the beach", "{who} waited an hour for the stream to slacken", "{who2} came along in a borrowed boat",
        "we ate ashore and let the squall go by", "{who} took the bearings and {who2} the photographs",
    ];

    private static readonly string[] Lessons =
    [
        "Next time we start {n} minutes earlier.", "The last mile took as long as the first three.", "Noted for the next visit: the tap behind the hut works again.", "Water was {n} degrees at the slip.", "Nobody got cold, and nobody hurried.",
        "It is a good place to practise, with a way out on both sides.", "The car park wants coins.", "What we had packed too much of was rope.", "A seal followed us past the second buoy.", "Two of the group said that it was their best day of the year.",
        "We had planned for {n} miles and did a little less.", "The forecast was right about the wind and wrong about the hour.",
    ];

    private static readonly string[] Stock =
    [
        "It costs {p} pounds in {c} and the same in {c2}.", "We have {n} of them on the shelf and more within a week.", "Delivery takes {n} days, and {n2} to the islands.", "Bring it back dry within sixty days.", "The larger size adds {n} pounds.",
        "{who} at the counter has used one since {m}.", "It is made in batches, the next one in {m}.", "For clubs there is a tenth off from four pieces.", "Spares are in the drawer below.", "A used one, three seasons old, hangs beside it for half.",
    ];

    private static readonly string[] News =
    [
        "The slip at {l} is closed for {n} days from the third of {m}; use the beach to the east.", "The club at {l} gives away {n} old boats to whoever collects them.", "{who} crossed from {l} in {n} hours and was met with cake.", "From {m} the harbour office at {l} opens at seven.",
        "The paddle-in at {l} drew {n2} boats, two dogs and a piano.", "A reader found a glove at {l}; it is at the post office.", "Moorings at {l} have moved {n} metres to the south.", "The winter talks begin in {m}, with {who} on the first evening.",
        "Measured at {l}: the water is {n} degrees, one more than last year.", "The council asks paddlers at {l} to leave the upper row to trailers.",
    ];

    private static readonly string[] Remarks =
    [
        "Mine has done {n} seasons now and I would say the same again.", "I disagree with the post above, but kindly.", "Tried it at {l} last {m} and came home happy.", "Whatever you choose, try it with wet hands first.", "My local club lent me one for {n} weeks, just ask.",
        "Cost me {p} pounds used, from a man who had bought two.", "I am {h} tall, for what it is worth.", "Thanks, {who}, that settles it for me.", "Not in winter, though.", "I asked the same in {m} and was told to go and see; best answer I ever got.", "Photo to follow when it stops raining.",
    ];

    /// <summary>What may be said of anything that a page tells of: {f} is the thing, with its article.</summary>
    private static readonly string[] Mentions =
    [
        "Look at {f} before anything else.", "We spent an evening on {f} and were glad of it later.", "Nobody in the group had thought about {f}.", "Ask the last owner about {f}.", "It was {f} that {who} asked about first.",
        "A drawing of {f} hangs in the clubhouse.", "Give {f} ten minutes of attention.", "Older books say little about {f}.", "In {m} we looked again at {f}.", "For {who} it all came down to {f}.",
        "Two of {n} had trouble with {f}.", "You will hear different things about {f}, and most are true of some water.", "Begin with {f} and leave the rest for the second day.", "What we noted on {f} was written with cold hands.",
        "{who} would not go without knowing about {f}.", "Our course spends an hour on {f}.", "Between {f} and the price we would look at the price last.", "Since {m} we have a page of notes on {f}.", "At {l} we saw what happens without a thought for {f}.",
        "Of all the letters this year, {n} were about {f}.",
    ];

    /// <summary>Terms that are part of a longer name.</summary>
    private static readonly Dictionary<string, string> Spoken = new(StringComparer.Ordinal)
    {
        ["trace"] = "leave no trace",
        ["twelfths"] = "the rule of twelfths",
        ["dry paper"] = "wet and dry paper",
        ["collect"] = "click and collect",
        ["stitch"] = "stitch and glue",
        ["van"] = "delivery by van",
        ["access"] = "the right of access",
        ["thermoformed"] = "thermoformed sheet",
        ["uv cover"] = "the UV cover",
        ["t rescue"] = "the T rescue",
        ["j stroke"] = "the J stroke",
    };

    private static readonly string[] SizeColumns = ["Size", "Height", "Chest", "Inside leg"];
    private static readonly string[] Articles = ["the", "a", "an", "each", "every"];
    private static readonly string[] Letters = ["S", "M", "L", "XL"];
    private static readonly string[] Ordinals = ["first", "second", "third", "fourth", "fifth", "sixth"];

    /// <returns>Sizes by body height, the head first.</returns>
    public static IReadOnlyList<string[]> Sizes(Random random)
    {
        var start = 148 + random.Next(8);
        return [SizeColumns, .. Letters.Select((size, i) => new[] { size, $"{start + (i * 9)} to {start + (i * 9) + 8}", $"{84 + (i * 8)} to {91 + (i * 8)}", $"{70 + (i * 4)}" })];
    }

    /// <returns>Sections of about the given number of words; none for fewer than 30.</returns>
    /// <param name="type">Of the page.</param>
    /// <param name="words">How many are wanted.</param>
    /// <param name="facts">What the page tells of its topic; each is mentioned a few times more at most.</param>
    /// <param name="mentions">See <see cref="MentionsFor"/>.</param>
    /// <param name="random">Of the page.</param>
    public static IEnumerable<CorpusSection> Of(CorpusType type, int words, IReadOnlyList<ScenarioFact> facts, Queue<string> mentions, Random random)
    {
        var (models, isFirst) = (new Queue<string>(Models.OrderBy(_ => random.Next()).ToList()), true);
        var used = new HashSet<string>(StringComparer.Ordinal);
        var entries = new List<string>();
        while (words > 30)
        {
            if (type is CorpusType.Comparison or CorpusType.Shop && models.TryDequeue(out var model))
            {
                if (isFirst)
                    yield return type == CorpusType.Comparison ? new CorpusSection("One by one", "In the order in which we would buy them, with what each of them cost.") : new CorpusSection("In the store now", "Everything here can be had today.");
                isFirst = false;
                var text = Filled(type == CorpusType.Comparison ? ["We paid {p} pounds for it in {m} and used it on {n} days.", .. Next(1), .. Some(Verdicts, 3)] : [.. Some(Stock, 3), .. Next(1)]);
                yield return new CorpusSection($"{model} {random.Next(2, 9) * 10}", text, 3);
                words -= WordsOf(text);
                continue;
            }

            entries.Add(type switch
            {
                CorpusType.News => Filled(["{m}, {l}:", .. Some(News, 2), .. Next(1)]),
                CorpusType.Forum => Filled(["{who}, {n} {m}:", .. Some(Remarks, 2), .. Next(1)]),
                _ => Filled(["{n} {m}, {l}:", Some(Doings, 1)[0] + ", in " + Winds[random.Next(Winds.Length)] + ".", .. Next(1), .. Some(Lessons, 2)]),
            });
            words -= WordsOf(entries[^1]);
        }

        if (entries.Count > 0)
            yield return new CorpusSection(type switch { CorpusType.News => "Month by month", CorpusType.Forum => "Replies", _ => "From our log" }, string.Join('\n', entries));

        string Filled(IEnumerable<string> texts) => string.Join(' ', texts.Select(t => Fill(t, random)));

        static int WordsOf(string text) => text.Count(c => c == ' ') + 1;

        IEnumerable<string> Next(int count)
        {
            for (var i = 0; i < count && facts.Count > 0 && mentions.TryDequeue(out var pattern); i++)
                yield return Mention(pattern, facts[mentions.Count % facts.Count]);
        }

        // What has no numbers or names to fill in would read the same twice.
        List<string> Some(string[] from, int count)
        {
            var some = from.Where(t => t.Contains('{', StringComparison.Ordinal) || !used.Contains(t)).OrderBy(_ => random.Next()).Take(count).ToList();
            used.UnionWith(some);
            return some;
        }
    }

    /// <summary>The ways in which a page mentions what it tells of, each to be used once.</summary>
    public static Queue<string> MentionsFor(Random random) => new(Mentions.OrderBy(_ => random.Next()).ToList());

    /// <summary>A sentence that mentions what a fact is about, with a space before it; empty where the page has used all.</summary>
    public static string Mention(ScenarioFact fact, Queue<string> mentions, Random random) => mentions.TryDequeue(out var pattern) ? " " + Phrases.Sentence(Fill(Mention(pattern, fact), random)) : "";

    /// <summary>With its article where the sentences on it have one.</summary>
    private static string Mention(string pattern, ScenarioFact fact) => pattern.Replace("{f}", Spoken.GetValueOrDefault(fact.Term)
        ?? (fact.Sentences.Any(s => Articles.Any(a => s.Contains($"{a} {fact.Term}", StringComparison.OrdinalIgnoreCase))) ? $"the {fact.Term}" : fact.Term), StringComparison.Ordinal);

    private static string Fill(string pattern, Random random)
    {
        string Number(int from, int to) => random.Next(from, to).ToString(CultureInfo.InvariantCulture);
        if (!pattern.Contains('{', StringComparison.Ordinal))
            return pattern;
        var who = random.Next(People.Length);
        return pattern.Replace("{who2}", People[(who + 5) % People.Length], StringComparison.Ordinal).Replace("{who}", People[who], StringComparison.Ordinal).Replace("{l}", Landings[random.Next(Landings.Length)], StringComparison.Ordinal)
            .Replace("{m}", Months[random.Next(Months.Length)], StringComparison.Ordinal).Replace("{n2}", Number(14, 60), StringComparison.Ordinal).Replace("{n}", Number(3, 28), StringComparison.Ordinal)
            .Replace("{p}", Number(4, 90) + "5", StringComparison.Ordinal).Replace("{g}", Number(20, 400), StringComparison.Ordinal).Replace("{o}", Ordinals[random.Next(Ordinals.Length)], StringComparison.Ordinal)
            .Replace("{c2}", Colours[random.Next(Colours.Length)], StringComparison.Ordinal).Replace("{c}", Colours[random.Next(Colours.Length)], StringComparison.Ordinal)
            .Replace("{t}", $"{Number(6, 11)}.{Number(10, 59)}", StringComparison.Ordinal).Replace("{h}", $"1.{Number(52, 99)} m", StringComparison.Ordinal);
    }
}
