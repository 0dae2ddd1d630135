package dasein.core.model.file;

import dasein.core.BadInput;
import dasein.core.model.Texture;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import org.lwjgl.PointerBuffer;
import org.lwjgl.system.MemoryStack;
import org.lwjgl.system.MemoryUtil;
import org.lwjgl.util.ktx.KTX;
import org.lwjgl.util.ktx.ktxTexture2;

/** Flat pictures in KTX 2.0 files (Khronos) as glTF uses them: Basis Universal, or eight bits plain. */
final class Ktx2 {
    private static final long MAGIC = 0xBB30322058544BABL;
    private static final int MAX_SIDE = 16384, RGBA8 = 37, RGBA8_SRGB = 43;
    private static final long MOST_PIXELS = 1L << 27;

    private Ktx2() {}

    /**
     * @throws BadInput when it is damaged and the library sees that; on some damage the library ends the process, see
     *     {@link Apart}
     */
    static Texture read(String name, byte[] file) {
        ByteBuffer h = ByteBuffer.wrap(file).order(ByteOrder.LITTLE_ENDIAN);
        if (file.length < 104 || h.getLong(0) != MAGIC) throw damaged(name);
        int format = h.getInt(12), width = h.getInt(20), height = h.getInt(24);
        if (width < 1 || height < 1 || width > MAX_SIDE || height > MAX_SIDE || (long) width * height > MOST_PIXELS)
            throw new BadInput(name + " has a texture larger than " + MAX_SIDE + " pixels a side or "
                    + (MOST_PIXELS >> 20) + " million together");
        // Depth, layers, faces: one flat picture.
        if (h.getInt(28) != 0 || h.getInt(32) > 1 || h.getInt(32) < 0 || h.getInt(36) != 1) throw damaged(name);
        if (format != 0 && format != RGBA8 && format != RGBA8_SRGB)
            throw new BadInput(
                    name + " has a KTX2 texture in a format that glTF does not use; Basis Universal can be read");
        ByteBuffer in = MemoryUtil.memAlloc(file.length);
        ktxTexture2 texture = null;
        try (MemoryStack stack = MemoryStack.stackPush()) {
            in.put(file).flip();
            PointerBuffer made = stack.mallocPointer(1), begin = stack.mallocPointer(1);
            if (KTX.ktxTexture2_CreateFromMemory(in, KTX.KTX_TEXTURE_CREATE_LOAD_IMAGE_DATA_BIT, made)
                    != KTX.KTX_SUCCESS) throw damaged(name);
            texture = ktxTexture2.create(made.get(0));
            if (KTX.ktxTexture2_NeedsTranscoding(texture)
                    && KTX.ktxTexture2_TranscodeBasis(texture, KTX.KTX_TTF_RGBA32, 0) != KTX.KTX_SUCCESS)
                throw damaged(name);
            if (KTX.ktxTexture2_GetImageOffset(texture, 0, 0, 0, begin) != KTX.KTX_SUCCESS) throw damaged(name);
            ByteBuffer data = texture.pData();
            if (data == null || begin.get(0) + 4L * width * height > texture.dataSize()) throw damaged(name);
            ByteBuffer rgba = MemoryUtil.memByteBuffer(MemoryUtil.memAddress0(data) + begin.get(0), 4 * width * height)
                    .order(ByteOrder.BIG_ENDIAN);
            int[] argb = new int[width * height];
            for (int i = 0; i < argb.length; i++) argb[i] = Integer.rotateRight(rgba.getInt(4 * i), 8);
            return new Texture(width, height, argb, true, false);
        } finally {
            if (texture != null) KTX.ktxTexture2_Destroy(texture);
            MemoryUtil.memFree(in);
        }
    }

    private static BadInput damaged(String name) {
        return new BadInput(name + " is damaged: a KTX2 texture cannot be read");
    }
}
