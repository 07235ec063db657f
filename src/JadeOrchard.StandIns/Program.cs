using System.Globalization;
using JadeOrchard.StandIns;

// Writes the files of the demo: keywords.csv, results.csv, pages.csv, truth.csv and project.json.
if (args.Length is not (3 or 5) || args[0] != "generate" || (args.Length == 5 && args[3] != "--seed"))
{
    Console.Error.WriteLine("usage: JadeOrchard.StandIns generate SCENARIO.json FOLDER [--seed NUMBER]");
    return 2;
}

var (scenarioPath, folder) = (args[1], args[2]);
int? seed = args.Length == 5 ? int.Parse(args[4], CultureInfo.InvariantCulture) : null;
var scenario = Scenario.Read(scenarioPath);
DemoFiles.Write(scenario, Generator.Make(scenario, seed), folder);
return 0;
