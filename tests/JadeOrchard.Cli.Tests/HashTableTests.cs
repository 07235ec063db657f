using CsCheck;

namespace JadeOrchard.Cli.Tests;

public class HashTableTests
{
    /// <summary>Also where hashes agree in the half that tells their place, and in the other one.</summary>
    [Fact]
    public void GivesTheIndexesThatADictionaryGives() =>
        Gen.Select(Gen.ULong[0, 3], Gen.OneOf(Gen.ULong[0, 40], Gen.ULong), (high, low) => new UInt128(high, low)).Array[0, 3_000].Sample(hashes =>
        {
            var (table, known) = (new HashTable(), new Dictionary<UInt128, int>());
            foreach (var some in hashes.Chunk(HashTable.FetchedAtOnce))
            {
                table.Fetch(some);
                foreach (var hash in some)
                {
                    Assert.Equal(known.GetValueOrDefault(hash, -1), table.Find(hash));
                    var isNew = known.TryAdd(hash, known.Count);
                    Assert.Equal((known[hash], isNew), (table.FindOrAdd(hash, out var wasNew), wasNew));
                }
            }

            Assert.Equal(known.Count, table.Count);
            Assert.All(known, k => Assert.Equal(k.Value, table.Find(k.Key)));
        },
        iter: 60);
}
