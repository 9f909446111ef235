package posada.core.plan;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import posada.core.plan.Estimate.Finished;
import posada.core.plan.Estimate.Trial;

/**
 * What the frames of a strand come to: how long they take, and how noisy they are then.
 *
 * @param frames how many
 * @param samples of a pixel, in the mean over frames
 * @param seconds of all frames
 * @param noise in the mean over frames
 * @param noisiest the frame with the most noise, of those that were tried out or are finished
 * @param most its noise
 */
public record Reach(
    int frames, double samples, double seconds, double noise, int noisiest, double most) {
  /**
   * Returns what frames come to by trials, which finished frames set right.
   *
   * @param frames that are to be rendered, in order
   * @param pixels of each
   * @param samples most of each pixel
   * @param limit seconds after which no more samples are begun; 0 for none
   * @param trials at least one
   * @param finished frames that were rendered with so many samples
   */
  public static Reach of(
      List<Integer> frames,
      long pixels,
      int samples,
      double limit,
      List<Trial> trials,
      List<Finished> finished) {
    TreeMap<Integer, Double> all = new TreeMap<>(), noises = new TreeMap<>();
    for (Trial t : trials) {
      all.put(t.frame(), t.seconds(pixels, samples));
      noises.put(t.frame(), t.noise().of(samples));
    }
    double slower = Estimate.factor(all, finished, Finished::seconds);
    List<Finished> measured = finished.stream().filter(f -> f.noise() != null).toList();
    double noisier = Estimate.factor(noises, measured, Finished::noise);
    TreeMap<Integer, Double> taken = new TreeMap<>();
    for (Trial t : trials) {
      double n = samples;
      if (limit > 0) {
        double room = limit / slower - t.building() - pixels * t.perPixel();
        n = Math.max(1, Math.min(samples, room / (pixels * t.perSample())));
      }
      taken.put(t.frame(), n);
      all.put(t.frame(), slower * t.seconds(pixels, n));
      noises.put(t.frame(), noisier * t.noise().of(n));
    }
    double seconds = 0, noise = 0, mean = 0;
    for (int f : frames) {
      seconds += Estimate.at(all, f);
      noise += Estimate.at(noises, f) / frames.size();
      mean += Estimate.at(taken, f) / frames.size();
    }
    if (limit == 0) {
      // What was measured says more than what was tried out small.
      measured.forEach(f -> noises.put(f.frame(), f.noise()));
    }
    Map.Entry<Integer, Double> worst =
        noises.entrySet().stream().max(Map.Entry.comparingByValue()).orElseThrow();
    return new Reach(frames.size(), mean, seconds, noise, worst.getKey(), worst.getValue());
  }
}
