package dasein.app.store;

import java.security.SecureRandom;
import java.util.Base64;
import org.apache.commons.codec.digest.DigestUtils;

/** Long random words that open something. They are shown once; what is kept is their hash. */
public final class Token {
    private static final int BYTES = 32;
    private static final SecureRandom RANDOM = new SecureRandom();

    private Token() {}

    /** 256 bits, in letters that need no escaping in an address. */
    public static String fresh() {
        byte[] b = new byte[BYTES];
        RANDOM.nextBytes(b);
        return Base64.getUrlEncoder().withoutPadding().encodeToString(b);
    }

    /** Of so many bits a plain hash is enough: they cannot be tried out. */
    public static String hash(String token) {
        return DigestUtils.sha256Hex(token);
    }
}
