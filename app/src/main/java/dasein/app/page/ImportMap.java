package dasein.app.page;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Base64;
import org.springframework.stereotype.Component;

/** Where the browser finds script modules; the page's policy allows exactly this one inline text, by its hash. */
@Component("importMap")
public class ImportMap {
    private static final String TEXT =
            "{\"imports\": {\"three\": \"/webjars/three/0.181.1/build/three.module.min.js\", "
                    + "\"three/addons/\": \"/webjars/three/0.181.1/examples/jsm/\"}}";

    public String text() {
        return TEXT;
    }

    public String hash() {
        try {
            return Base64.getEncoder()
                    .encodeToString(MessageDigest.getInstance("SHA-256").digest(TEXT.getBytes(StandardCharsets.UTF_8)));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}
