namespace JadeOrchard.Core.Clusters;

/// <summary>How pairs of keywords that overlap by the minimum become clusters.</summary>
public enum LinkingRule
{
    /// <summary>Around the keywords of greatest volume, see <see cref="Clusters.PrimaryRule"/>.</summary>
    Primary,

    /// <summary>Within a cluster every pair overlaps by the minimum, see <see cref="Clusters.EveryPairRule"/>.</summary>
    EveryPair,

    /// <summary>Connected components, see <see cref="Clusters.ChainRule"/>.</summary>
    Chain,
}
