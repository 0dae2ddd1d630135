package dasein.core.lens;

import java.util.List;

/**
 * Standard image areas by their usual names, millimetres. Makers differ by some tenths, so a camera's own data sheet
 * goes first. Still formats after CIPA DCG-001 and ISO 1007 (35 mm film); film formats after SMPTE ST 59 and ST 201;
 * Four Thirds 17.3 x 13 mm; the others are common practice.
 */
public record FilmBack(String name, double widthMm, double heightMm) {
    public static final List<FilmBack> STANDARD = List.of(
            new FilmBack("65 mm film", 52.48, 23.01),
            new FilmBack("full frame, 35 mm still", 36, 24),
            new FilmBack("Super 35 film", 24.89, 18.66),
            new FilmBack("35 mm film, sound", 21.95, 16.00),
            new FilmBack("APS-C", 23.6, 15.7),
            new FilmBack("Four Thirds", 17.3, 13),
            new FilmBack("1 inch", 13.2, 8.8),
            new FilmBack("Super 16 film", 12.52, 7.41),
            new FilmBack("2/3 inch", 8.8, 6.6),
            new FilmBack("1/2.3 inch", 6.17, 4.55));
}
