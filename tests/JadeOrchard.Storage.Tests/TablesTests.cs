namespace JadeOrchard.Storage.Tests;

/// <summary>Every table has a rule for undo, and images cover every column that is recorded.</summary>
public sealed class TablesTests : WithDatabase
{
    [Fact]
    public void EveryTableOfTheSchemaIsRecordedDerivedOrExcludedForAReason()
    {
        var schema = Database.Read(s => s.List(
            "select name from sqlite_master where type = 'table' and name not like 'sqlite\\_%' escape '\\'", r => r.GetString(0)));
        var images = Tables.RecordedOnes.Select(t => "undo_" + t.Name).ToHashSet();
        Assert.Equal(schema.Where(t => !images.Contains(t)).Order(), Tables.All.Select(t => t.Name).Order());
        Assert.All(Tables.All, t => Assert.True(t.Kind == UndoRule.Recorded || t.Says.Length > 0, t.Name));
    }

    [Fact]
    public void ImagesCoverEveryColumnButDerivedOnes()
    {
        foreach (var table in Tables.RecordedOnes)
        {
            var columns = Columns(table.Name);
            Assert.Empty(table.Derived.Except(columns));
            Assert.Empty(columns.Where(c => c != KeyOf(table.Name)).Except(table.Derived).Except(Columns("undo_" + table.Name)));
            // A change of any of them is recorded: the trigger names them all.
            var triggers = Database.Read(s => s.List("select sql from sqlite_master where type = 'trigger' and tbl_name = @table", r => r.GetString(0), ("table", table.Name)));
            var update = Assert.Single(triggers, t => t.Contains("after update of", StringComparison.OrdinalIgnoreCase));
            foreach (var column in columns.Except(table.Derived).Where(c => c != KeyOf(table.Name)))
                Assert.Contains($"old.{column} is not new.{column}", update, StringComparison.Ordinal);
        }
    }

    private List<string> Columns(string table) => Database.Read(s => s.List($"select name from pragma_table_info('{table}')", r => r.GetString(0)));

    private string? KeyOf(string table) => Database.Read(s => s.List($"select name from pragma_table_info('{table}') where pk and type = 'INTEGER' and (select count(*) from pragma_table_info('{table}') where pk) = 1", r => r.GetString(0))).SingleOrDefault();
}
