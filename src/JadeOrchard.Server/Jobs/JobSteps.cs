using JadeOrchard.Storage;
using JadeOrchard.Storage.Jobs;

namespace JadeOrchard.Server.Jobs;

/// <summary>The undo step of a job that writes in several transactions, over stops and restarts.</summary>
public static class JobSteps
{
    /// <returns>The step of the job, begun or gone on with; a new one where the old was undone meanwhile.</returns>
    public static long Open(Orchard orchard, JobRow job) => orchard.Database.Write(session =>
    {
        if (job.StepId is { } known && UndoLog.CanContinue(session, known))
        {
            UndoLog.Reopen(session, known);
            return known;
        }

        var step = UndoLog.Open(session, job.Label);
        JobStore.SetStep(session, job.Id, step);
        return step;
    });

    /// <summary>Ends the step, done or not, and computes what follows from it.</summary>
    /// <param name="orchard">The project.</param>
    /// <param name="step">The step.</param>
    /// <param name="label">What it is called from now on.</param>
    /// <param name="finish">What is still to be written as part of the step.</param>
    public static void Close(Orchard orchard, long step, string label, Action<Session> finish)
    {
        orchard.Database.Continue(step, session =>
        {
            finish(session);
            ProjectStore.RaiseDataVersion(session);
            orchard.AfterData(session);
            return 0;
        });
        orchard.Database.Write(session => UndoLog.Close(session, step, label));
    }
}
