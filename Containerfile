# podman build -t jentrik .      docker build -f Containerfile -t jentrik .
FROM python:3.11-slim
COPY . /src
RUN pip install --no-cache-dir --require-hashes -r /src/requirements/build.txt -r /src/requirements/run.txt \
    && pip install --no-cache-dir --no-deps --no-build-isolation /src \
    && rm -r /src \
    && useradd --create-home jentrik \
    && install -d -m 700 -o jentrik -g jentrik /shop
USER jentrik
ENV JENTRIK_HOST=0.0.0.0 JENTRIK_DATA=/shop JENTRIK_LOG=json
VOLUME /shop
EXPOSE 8765
HEALTHCHECK --interval=30s --timeout=5s --start-period=20s \
    CMD ["jentrik", "health", "--url", "http://127.0.0.1:8765"]
CMD ["jentrik", "serve"]
