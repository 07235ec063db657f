using System.Globalization;

namespace JadeOrchard.Core.Refresh;

/// <summary>What is said of effects and changes, on screen and in files.</summary>
public static class EffectText
{
    public static string Name(EffectVerdict verdict) => verdict switch
    {
        EffectVerdict.TooEarly => "too early",
        EffectVerdict.TooLittleData => "too little data",
        EffectVerdict.NoEffect => "no effect",
        EffectVerdict.Helped => "helped",
        _ => "hurt",
    };

    public static string Name(ChangeKind kind, bool isMany = false) => kind switch
    {
        ChangeKind.Title => isMany ? "new titles" : "new title",
        ChangeKind.Description => isMany ? "new descriptions" : "new description",
        ChangeKind.Headings => "changed headings",
        ChangeKind.Text => isMany ? "changed texts" : "changed text",
        ChangeKind.Words => isMany ? "changed lengths" : "changed length",
        ChangeKind.Links => "changed links",
        ChangeKind.Address => isMany ? "changed addresses or statuses" : "changed address or status",
        _ => isMany ? "other changes" : "other change",
    };

    /// <param name="effect">Null where no search performance is known.</param>
    /// <returns>A sentence with its numbers.</returns>
    public static string Says(ChangeEffect? effect) => effect switch
    {
        null => "No search performance of this page is known.",
        { Verdict: EffectVerdict.TooEarly } => $"Too early: {Days(effect.Days)} of search performance after it {(effect.Days == 1 ? "is" : "are")} known, and {ChangeEffect.FewestDays} are needed.",
        { Verdict: EffectVerdict.TooLittleData, Controls: > 0, High: var high, Low: var low } when high > low =>
            $"Too little data: {Number(effect.Total)} clicks before and after it together, and {ChangeEffect.FewestClicks} are needed.",
        { Verdict: EffectVerdict.TooLittleData, Controls: > 0 } => $"Too little data: only {effect.Controls} other {(effect.Controls == 1 ? "page" : "pages")} with enough clicks did not change at the time, and three are needed.",
        { Verdict: EffectVerdict.TooLittleData } => $"Too little data: clicks of the {ChangeEffect.DaysBefore} days before it have to be known, and three pages that did not change.",
        { Verdict: EffectVerdict.NoEffect } => $"No effect beyond chance: {Signed(effect.Clicks)} clicks in {Days(effect.Days)}, 95 % between {Signed(effect.Low)} and {Signed(effect.High)}, against {Number(effect.Expected)} expected.",
        { Verdict: EffectVerdict.Helped } => $"It helped: {Number(effect.Clicks)} clicks more in {Days(effect.Days)} than without the change, 95 % between {Number(effect.Low)} and {Number(effect.High)}, against {Number(effect.Expected)} expected.",
        _ => $"It hurt: {Number(-effect.Clicks)} clicks fewer in {Days(effect.Days)} than without the change, 95 % between {Number(-effect.High)} and {Number(-effect.Low)}, against {Number(effect.Expected)} expected.",
    };

    private static string Days(int days) => days == 1 ? "1 day" : $"{days} days";

    private static string Signed(double clicks) => Math.Round(clicks) is var whole && whole > 0 ? $"+{Number(whole)}" : Number(whole).Replace('-', '−');

    private static string Number(double number) => Math.Round(number).ToString("#,0", CultureInfo.InvariantCulture);
}
