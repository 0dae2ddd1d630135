package dasein.core.light.sun;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import java.time.Instant;
import java.time.OffsetDateTime;
import org.junit.jupiter.api.Test;

class SolarPositionTest {
    /** The worked example of the report (NREL/TP-560-34302, table A5.1): Golden, 17 October 2003, 12:30:30 at -7 h. */
    @Test
    void isTheReportsToItsPrintedDigits() {
        SolarPosition s = SolarPosition.at(
                2452930 + (19 * 3600 + 30 * 60 + 30) / 86400.0 - 0.5,
                67,
                new SolarPosition.Place(39.742476, -105.1786, 1830.14, 820, 11));
        assertThat(s.zenithDeg()).isCloseTo(50.11162, within(5e-6));
        assertThat(s.azimuthDeg()).isCloseTo(194.34024, within(5e-6));
        Instant t = OffsetDateTime.parse("2003-10-17T12:30:30-07:00").toInstant();
        SolarPosition byClock = SolarPosition.at(t, new SolarPosition.Place(39.742476, -105.1786, 1830.14, 820, 11));
        assertThat(byClock.zenithDeg()).isCloseTo(50.11162, within(1e-4));
    }

    /** On the equator at the equinox's noon the sun stands overhead; at midsummer it stands over the tropic. */
    @Test
    void standsWhereTheAlmanacHasIt() {
        SolarPosition.Place greenwich = new SolarPosition.Place(0, 0, 0, 0, 10);
        // Equinox 2024-03-20 03:06 UT (almanac, from memory); true noon 7.4 minutes after twelve.
        assertThat(SolarPosition.at(Instant.parse("2024-03-20T12:07:24Z"), greenwich)
                        .zenithDeg())
                .isLessThan(0.2);
        SolarPosition tropic =
                SolarPosition.at(Instant.parse("2024-06-20T12:01:48Z"), new SolarPosition.Place(23.44, 0, 0, 0, 10));
        assertThat(tropic.zenithDeg()).isLessThan(0.05);
        assertThatThrownBy(() -> new SolarPosition.Place(91, 0, 0)).isInstanceOf(BadInput.class);
    }
}
