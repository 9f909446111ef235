package posada.server.review;

import java.time.Instant;

/**
 * A note on a frame.
 *
 * @param footage what it is on, such as {@code strand-12}
 * @param text in somebody's words
 * @param x share of the picture's width from its left of the box that it is about; y, width and
 *     height likewise; a width of 0 if it is about all of the picture
 * @param who wrote it
 * @param done true if nothing is left to do about it
 */
record Remark(
    long id,
    String footage,
    long productionId,
    int frame,
    String text,
    double x,
    double y,
    double width,
    double height,
    String who,
    Instant writtenAt,
    boolean done) {}
