using System.Globalization;
using JadeOrchard.Bench;

// usage: JadeOrchard.Bench [KEYWORDS ...]            the table at 20,000 and 100,000 keywords, or at those that are given
//        JadeOrchard.Bench keep FOLDER KEYWORDS [edits|lists|preview|grouping]   on a project that stays in FOLDER for the next time
//        JadeOrchard.Bench join ROOT [--with-database]   the engine beside others
//        JadeOrchard.Bench scan                          a scan beside the bare fetching
//        JadeOrchard.Bench staged [KEYWORDS]             capturing in stages
//        JadeOrchard.Bench refresh [FOLDER]              a million rows of search performance, on a project that may stay in FOLDER
CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
switch (args)
{
    case ["join", var root, .. var rest]:
        JoinBench.Run(root, withDatabase: rest is ["--with-database"]);
        return;
    case ["join-alone", var file]:
        JoinBench.Alone(file);
        return;
    case ["scan"]:
        await ScanBench.Run(Directory.CreateTempSubdirectory("jade-bench-").FullName);
        return;
    case ["refresh", .. var kept]:
        await RefreshBench.Run(kept is [var project] ? project : null);
        return;
    case ["staged", .. var number]:
        StagedBench.Run(number is [var keywords] ? int.Parse(keywords, CultureInfo.InvariantCulture) : 100_000);
        return;
    case ["keep", var folder, var count, .. var only]:
        await ProjectBench.Run(int.Parse(count, CultureInfo.InvariantCulture), folder, only is [var part] ? part : "");
        return;
    default:
        foreach (var size in args.Length > 0 ? args.Select(a => int.Parse(a, CultureInfo.InvariantCulture)) : [20_000, 100_000])
            await ProjectBench.Run(size, null, "");
        if (args.Length == 0)
        {
            await RefreshBench.Run(null);
            StagedBench.Run(100_000);
        }

        return;
}
