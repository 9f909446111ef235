package posada.server.estimates;

import posada.core.plan.Estimate.Figure;
import posada.server.app.Pushed;

/**
 * What the frames of a strand take that are still to be rendered.
 *
 * @param rendered frames that are to be rendered: of those that are made from the same, one
 * @param frames that are to be written
 * @param seconds for all of them; 0 while nothing is known
 * @param bytes of their files; likewise
 * @param trials frames that were tried out
 * @param finished frames that were rendered with the same settings
 * @param pending true if frames are still to be tried out
 */
@Pushed("estimate")
public record StrandEstimate(
    long productionId,
    long shotId,
    long layerId,
    int rendered,
    int frames,
    Figure seconds,
    Figure bytes,
    int trials,
    int finished,
    boolean pending) {}
