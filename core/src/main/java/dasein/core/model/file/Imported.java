package dasein.core.model.file;

import dasein.core.model.Model;
import java.util.List;

/**
 * A model as it came from a file.
 *
 * @param remarks what was guessed, left out or not understood, each a sentence
 * @param missing names of the pictures that were not there; a chequered one stands for each
 */
public record Imported(Model model, List<String> remarks, List<String> missing) {}
