package posada.core.trace;

/**
 * What came of a frame.
 *
 * @param samplesSpent of all pixels together
 * @param samplesOfMost most samples of a pixel
 * @param shareClean share of pixels whose noise is below the threshold, 0 .. 1; NaN if not adaptive
 * @param noise of the picture, see {@link Film#noise}
 * @param shareCut share of the light that the limit on what is bright has taken, 0 .. 1
 * @param outOfTime true if the limit in seconds ended the frame before its samples were done
 */
public record FrameReport(
    long samplesSpent,
    int samplesOfMost,
    double shareClean,
    double noise,
    double shareCut,
    boolean outOfTime) {}
