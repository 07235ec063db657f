using System.Globalization;
using System.IO.Hashing;
using System.Runtime.InteropServices;
using JadeOrchard.Core.Keywords;
using JadeOrchard.Core.Performance;
using JadeOrchard.Core.Refresh;
using JadeOrchard.Storage;
using JadeOrchard.Storage.Performance;
using JadeOrchard.Storage.Refresh;

namespace JadeOrchard.Server.Derived;

/// <summary>The pages that fade, and what queries get month by month, by the newest search performance.</summary>
internal sealed class FadingPages : IDerivedStep
{
    public Data Reads => Data.Pages | Data.Performance | Data.Project;

    public Data Writes => Data.None;

    public void Run(Derivation derivation)
    {
        var session = derivation.Session;
        if (PerformanceStore.Days(session) == 0)
        {
            if (FadingStore.Basis(session).Length > 0)
            {
                FadingStore.Replace(session, [], "");
                SeasonStore.SaveQueries(session, new Dictionary<int, MonthlyVolumes>());
            }

            return;
        }

        var snapshot = derivation.Snapshot;
        var addresses = PerformanceStore.Addresses(session);
        long[] pages = [.. addresses.Select(a => snapshot.PageOf(a) is >= 0 and var page ? snapshot.PageIds[page].Value : 0)];
        var basis = string.Create(CultureInfo.InvariantCulture, $"{PerformanceStore.Batches(session)} {XxHash64.HashToUInt64(MemoryMarshal.AsBytes(pages.AsSpan()))} {string.Join(' ', Enumerable.Range(1, 20).Select(p => snapshot.Curve.At(p)))}");
        if (FadingStore.Basis(session) == basis)
            return;
        var daily = PerformanceStore.Daily(session, snapshot.PageOf, snapshot.Pages.Count);
        SeasonStore.SaveQueries(session, QueryMonths.Of(daily, _ => true));
        FadingStore.Replace(
            session,
            Fading.Of(daily.ClicksByPage, daily.First).Select(f => new StoredFading(snapshot.PageIds[f.Page], f.Since, f.Before, f.Now, f.Course, f.P, FadingCauses.Of(daily, f.Page, snapshot.Curve).Sum)),
            basis);
    }
}
