package posada.core.denoise;

/**
 * A picture as it was sampled, with all that guides its cleaning. Light has three planes, and three
 * more for each part of it that is wanted clean by itself.
 *
 * @param diffuse light that is scattered evenly at the first surface; its variance is that of the
 *     light over {@code tint}
 * @param glossy light that is mirrored there or passes through; its variance is that of the light
 *     over {@code mirrored}
 * @param seen light that surfaces give off, and the environment
 * @param groups all light by where it comes from, three planes for each group; none if nobody asks
 * @param tint colour of the first surface for evenly scattered light, three planes, above 0
 * @param mirrored likewise for what it mirrors or lets pass
 * @param albedo colour that is seen, in mirrors and through glass too
 * @param normal means of unit vectors
 * @param nearness one over the distance, 1/metres; 0 where there is no surface
 */
public record NoisyPicture(
    int width,
    int height,
    Noisy diffuse,
    Noisy glossy,
    Noisy seen,
    float[][] groups,
    float[][] tint,
    float[][] mirrored,
    Noisy albedo,
    Noisy normal,
    Noisy nearness) {}
